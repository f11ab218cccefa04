/** Prints the middle and the slow end of some times. */
export function report(what: string, times: number[]) {
  const sorted = [...times].sort((a, b) => a - b);
  const at = (share: number) => sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))]?.toFixed(0);
  console.log(`${what}: median ${at(0.5)} ms, 95th percentile ${at(0.95)} ms, largest ${at(1)} ms, of ${times.length}`);
}
