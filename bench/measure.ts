/** One comparison: a piece of work, what it is held against, and the ratio that it may reach. */
export interface Bar {
  work: string;
  against: string;
  /** atMost: work / against; atLeast: against / work. */
  kind: "atMost" | "atLeast";
  bar: number;
  measured: number;
  workMs: number;
  againstMs: number;
  /** Of the two figures; milliseconds where nothing is said. */
  unit?: string;
}

const clock = (): number => Number(process.hrtime.bigint()) / 1e6;

/**
 * Medians of rounds in which the two take turns, after a warm-up of each: what the machine does
 * beside hits both alike.
 */
export async function compare(
  work: () => Promise<unknown>,
  against: () => Promise<unknown>,
  rounds: number,
): Promise<{ work: number; against: number }> {
  await work();
  await against();
  const times: [number[], number[]] = [[], []];
  for (let i = 0; i < rounds; i++)
    for (const [k, run] of [work, against].entries()) {
      const start = clock();
      await run();
      times[k]!.push(clock() - start);
    }
  return { work: median(times[0]), against: median(times[1]) };
}

export const median = (list: readonly number[]): number =>
  [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]!;

export function table(bars: readonly Bar[]): string {
  const row = (b: Bar) => [
    b.work,
    b.against,
    `${b.workMs.toFixed(2)} ${b.unit ?? "ms"}`,
    `${b.againstMs.toFixed(2)} ${b.unit ?? "ms"}`,
    `${b.measured.toFixed(2)}×`,
    `${b.kind === "atMost" ? "at most" : "at least"} ${b.bar}×`,
    holds(b) ? "holds" : "FALLS SHORT",
  ];
  const rows = [["work", "held against", "work", "against", "ratio", "bar", ""], ...bars.map(row)];
  const widths = rows[0]!.map((_, i) => Math.max(...rows.map((r) => r[i]!.length)));
  return rows.map((r) => r.map((c, i) => c.padEnd(widths[i]!)).join("  ")).join("\n");
}
export const holds = (b: Bar): boolean =>
  b.kind === "atMost" ? b.measured <= b.bar : b.measured >= b.bar;
