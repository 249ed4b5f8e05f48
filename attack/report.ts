/** One attack, what has to come of it, and what came. */
export interface Outcome {
  area: string;
  attack: string;
  expected: string;
  got: string;
  holds: boolean;
  /** Whether it hangs on how fast this machine is at the moment. */
  timed: boolean;
}

export const outcome = (
  area: string,
  attack: string,
  expected: string,
  got: string | number,
  holds: boolean,
  timed = false,
): Outcome => ({ area, attack, expected, got: String(got).slice(0, 60), holds, timed });

/** The outcomes as a table of plain text. */
export function table(outcomes: readonly Outcome[]): string {
  const rows = outcomes.map((o) => [
    o.holds ? "holds" : "FAILS",
    o.area,
    o.attack,
    o.expected,
    o.got,
  ]);
  const all = [["", "Area", "Attack", "Expected", "Got"], ...rows];
  const widths = all[0]!.map((_, i) => Math.max(...all.map((r) => r[i]!.length)));
  return all
    .map((r) =>
      r
        .map((c, i) => c.padEnd(widths[i]!))
        .join("  ")
        .trimEnd(),
    )
    .join("\n");
}
