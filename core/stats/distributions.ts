/** Natural logarithm of the gamma function for x > 0: Lanczos' approximation (Press et al., Numerical Recipes, 2007, 6.1). */
export function logGamma(x: number): number {
  const series = [
    76.1800917294715, -86.5053203294168, 24.01409824083091, -1.23173957245015, 0.1208650973866179e-2,
    -0.5395239384953e-5,
  ];
  let y = x;
  const shifted = x + 5.5 - (x + 0.5) * Math.log(x + 5.5);
  const sum = series.reduce((total, term) => total + term / ++y, 1.00000000019001);
  return -shifted + Math.log((2.506628274631 * sum) / x);
}

/** Regularized incomplete beta function I_x(a, b), by Lentz's continued fraction (Press et al., 2007, 6.4). */
export function incompleteBeta(x: number, a: number, b: number): number {
  if (x <= 0) return 0;
  if (x >= 1) return 1;
  if (x > (a + 1) / (a + b + 2)) return 1 - incompleteBeta(1 - x, b, a);
  const front = Math.exp(logGamma(a + b) - logGamma(a) - logGamma(b) + a * Math.log(x) + b * Math.log(1 - x)) / a;
  const tiny = 1e-300;
  const away = (value: number) => (Math.abs(value) < tiny ? tiny : value);
  let c = 1;
  let d = 1 / away(1 - ((a + b) * x) / (a + 1));
  let result = d;
  for (let m = 1; m <= 300; m++) {
    const even = (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m));
    d = 1 / away(1 + even * d);
    c = away(1 + even / c);
    result *= d * c;
    const odd = (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1));
    d = 1 / away(1 + odd * d);
    c = away(1 + odd / c);
    const change = d * c;
    result *= change;
    if (Math.abs(change - 1) < 1e-14) break;
  }
  return front * result;
}

/** Share of Student's t distribution with `df` degrees of freedom that lies below `t`. */
export function tBelow(t: number, df: number): number {
  const tail = incompleteBeta(df / (df + t * t), df / 2, 0.5) / 2;
  return t > 0 ? 1 - tail : tail;
}

/** The t below which a share `p` of the distribution lies, for 0 < p < 1: by bisection, to 1e-10. */
export function tQuantile(p: number, df: number): number {
  let [low, high] = [-1e4, 1e4];
  for (let step = 0; step < 200 && high - low > 1e-10; step++) {
    const middle = (low + high) / 2;
    if (tBelow(middle, df) < p) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
