/** The value below which a share of the measurements lies. */
export const quantile = (xs: number[], q: number) =>
  [...xs].sort((a, b) => a - b)[Math.floor(q * (xs.length - 1))] ?? Number.NaN;

export const ms = (x: number) => `${x.toFixed(1)} ms`;

export const report = (what: string, xs: number[]) => {
  const [median, most, longest] = [0.5, 0.95, 1].map((q) => ms(quantile(xs, q)));
  console.log(
    `${what}: median ${median ?? ''}, 95th percentile ${most ?? ''}, longest ${longest ?? ''}, ${String(xs.length)} runs`,
  );
};
