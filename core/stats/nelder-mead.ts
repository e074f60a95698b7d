/** A place and the value of the function there. */
type Corner = { at: number[]; value: number };

/**
 * Where a function of a few variables is smallest, from a place on (Nelder & Mead, 1965). `steps` are how far the first simplex
 * reaches; it ends where its corners' values differ by less than `within`, or after so many evaluations.
 */
export function smallest(
  of: (at: readonly number[]) => number,
  from: readonly number[],
  steps: readonly number[],
  { within = 1e-6, most = 600 }: { within?: number; most?: number } = {},
): Corner {
  let evaluations = 0;
  const corner = (at: number[]): Corner => {
    evaluations++;
    const value = of(at);
    return { at, value: Number.isNaN(value) ? Infinity : value };
  };
  const corners = [
    corner([...from]),
    ...steps.map((step, axis) => corner(from.map((x, at) => (at === axis ? x + step : x)))),
  ];
  const sort = () => corners.sort((a, b) => a.value - b.value);
  sort();
  while (evaluations < most) {
    const [best, worst, next] = [corners[0] as Corner, corners.at(-1) as Corner, corners.at(-2) as Corner];
    if (worst.value - best.value < within) break;
    const middle = from.map(
      (_, axis) => corners.slice(0, -1).reduce((sum, { at }) => sum + (at[axis] as number), 0) / from.length,
    );
    const away = (by: number) => corner(middle.map((x, axis) => x + by * (x - (worst.at[axis] as number))));
    const reflected = away(1);
    let replacing: Corner | null = reflected;
    if (reflected.value < best.value) {
      const further = away(2);
      if (further.value < reflected.value) replacing = further;
    } else if (reflected.value >= next.value) {
      const nearer = away(reflected.value < worst.value ? 0.5 : -0.5);
      replacing = nearer.value < Math.min(worst.value, reflected.value) ? nearer : null;
    }
    if (replacing) corners[corners.length - 1] = replacing;
    else
      for (let index = 1; index < corners.length; index++)
        corners[index] = corner(best.at.map((x, axis) => (x + (corners[index]?.at[axis] as number)) / 2));
    sort();
  }
  return corners[0] as Corner;
}
