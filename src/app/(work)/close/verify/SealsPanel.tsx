import type { Seals } from "@/server/closing";
import { shownDate } from "@/ui/writing";

/** What is sealed, the heads to compare with those that somebody keeps, and what is not covered. */
export function SealsPanel({ seals: { seals, covered } }: { seals: Seals }) {
  const [last] = seals;
  const open = covered.flatMap((c) => c.open.map((o) => ({ ...o, table: c.table })));
  return (
    <section className="panel grid gap-3 overflow-auto p-3" aria-label="Seals" tabIndex={0}>
      <h2>Seals</h2>
      {last ? (
        <p>
          Seal {last.no} of {shownDate(last.at.slice(0, 10))} {last.at.slice(11, 16)} UTC. Whoever
          keeps the signed files can prove that nothing before them was changed or cut off.
        </p>
      ) : (
        <p className="text-ink-2">
          None yet: what has become final is sealed every quarter of an hour.
        </p>
      )}
      {last && (
        <table className="sheet">
          <thead>
            <tr>
              <th className="w-28">Company</th>
              <th className="num w-28">Journals</th>
              <th>Hash of its last journal</th>
            </tr>
          </thead>
          <tbody>
            {last.heads.map((h) => (
              <tr key={h.company}>
                <td className="font-semibold">{h.company}</td>
                <td className="num">{Number(h.seq).toLocaleString("en")}</td>
                <td className="font-mono text-xs">{h.hash}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <details>
        <summary>
          {covered.length} tables are covered, but for {open.length} columns that still change
        </summary>
        <table className="sheet mt-2">
          <thead>
            <tr>
              <th className="w-64">Not covered</th>
              <th>Reason</th>
            </tr>
          </thead>
          <tbody>
            {open.map((o) => (
              <tr key={`${o.table} ${o.column}`}>
                <td>
                  {o.table.replaceAll("_", " ")}: {o.column.replaceAll("_", " ")}
                </td>
                <td className="whitespace-normal!">{o.reason}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </section>
  );
}
