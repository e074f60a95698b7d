/** How axes look in all figures. */
export const tick = { fill: "var(--muted)", fontSize: 12, fontFamily: "var(--font-mono)" };
/** Names of conditions rather than numbers. */
export const nameTick = { fill: "var(--ink)", fontSize: 13 };
export const axisLine = { stroke: "var(--muted)" };

const style = { textAnchor: "middle", fill: "var(--muted)", fontSize: 12 } as const;
export const labelBelow = (value: string) => ({ value, position: "insideBottom", offset: -12, style }) as const;
export const labelBeside = (value: string) => ({ value, angle: -90, position: "insideLeft", style }) as const;
