/** A text as it can stand in HTML, SVG and their attributes in double quotes. */
export const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (sign) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;" })[sign] ?? sign);
