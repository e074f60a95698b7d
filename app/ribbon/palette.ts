/** The palette of Okabe and Ito (2008), in a fixed order; a ninth level starts over. */
export const conditionColors = ["#0072b2", "#e69f00", "#009e73", "#cc79a7", "#56b4e9", "#d55e00", "#f0e442", "#7f7f7f"];
export const conditionColor = (index: number): string =>
  index < 0 ? "#9aa5a0" : (conditionColors[index % conditionColors.length] ?? "#9aa5a0");
