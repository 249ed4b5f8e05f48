"use client";
import { PanelFrame } from "@/ui/panel/PanelFrame";
import { X } from "lucide-react";
import type { DraftCheck } from "@/server/ledger";
import { shownAmount, shownQuantity, shownFigures } from "@/ui/writing";

const WHY: Record<string, string> = {
  pair: "between companies",
  rounding: "rounding",
  balance: "balances the value",
};

/**
 * Before posting: what it would do to balances and to the figures everybody asks about, and each
 * company's journal with the lines that are added.
 */
export function DraftPanel({ check, onClose }: { check: DraftCheck | null; onClose?: () => void }) {
  return (
    <PanelFrame label="Effect" name="effect" width={380}>
      <div className="flex min-h-0 flex-1 flex-col overflow-y-auto px-4 py-3.5">
        <div className="mb-2 flex items-center">
          <h2 className="flex-1">If this is posted</h2>
          {onClose && (
            <button
              type="button"
              aria-label="Close the effect"
              className="rounded p-1 text-ink-2 hover:bg-shade"
              onClick={onClose}
            >
              <X size={15} />
            </button>
          )}
        </div>
        {!check || check.effects.length === 0 ? (
          <p className="text-ink-2">
            Once the journal has a date and lines, this shows what posting would change.
          </p>
        ) : null}
        {check?.effects.map((e) => {
          const row = (label: string, before: bigint, after: bigint, units = false) => {
            const text = (n: bigint) => (units ? shownQuantity(n) : shownAmount(n, e.currency));
            return (
              <tr key={label}>
                <td className="max-w-[150px] truncate" title={label}>
                  {label}
                </td>
                <td className="num text-ink-2">{text(before)}</td>
                <td className="num font-semibold">{text(after)}</td>
              </tr>
            );
          };
          return (
            <section key={e.company} className="mb-4">
              <h3 className="label">
                {e.company}, {e.currency}
              </h3>
              <table className="sheet">
                <thead>
                  <tr>
                    <th>Figure</th>
                    <th className="num">Before posting</th>
                    <th className="num">After posting</th>
                  </tr>
                </thead>
                <tbody>
                  {e.figures.map((f) => row(f.label, f.before, f.after))}
                  {e.balances.map((b) =>
                    row(`${b.account} ${b.label}`, b.before, b.after, b.units),
                  )}
                </tbody>
              </table>
            </section>
          );
        })}
        {check?.previews.map((p) => (
          <section key={p.company} className="mb-4">
            <h3 className="label">
              Journal of {p.companyName}
              {p.foreign ? `, ${p.foreign} and ${p.currency}` : `, ${p.currency}`}
            </h3>
            {p.rate && (
              <p className="mb-1 text-xs text-ink-2">
                1 {p.foreign} = {shownFigures(p.rate.rate)} {p.currency} ({p.rate.how})
              </p>
            )}
            <table className="sheet">
              <thead>
                <tr>
                  <th>Line</th>
                  {p.foreign && <th className="num">{p.foreign}</th>}
                  <th className="num">{p.currency}</th>
                </tr>
              </thead>
              <tbody>
                {p.lines.slice(0, 200).map((l, i) => {
                  const signed = (n: bigint) => (l.side === "debit" ? n : -n);
                  return (
                    <tr key={i} className={l.added ? "bg-yellow-2" : ""}>
                      <td
                        className="max-w-[170px] truncate"
                        title={`${l.account} ${l.name} ${l.description}`}
                      >
                        <b className="font-semibold">{l.account}</b> {l.name}
                        {l.added && <span className="text-ink-2"> · added, {WHY[l.added]}</span>}
                      </td>
                      {p.foreign && (
                        <td className="num text-ink-2">
                          {l.foreignAmount === null
                            ? ""
                            : shownAmount(signed(l.foreignAmount), p.foreign)}
                        </td>
                      )}
                      <td className="num">{shownAmount(signed(l.amount), p.currency)}</td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
            {p.lines.length > 200 && (
              <p className="pt-1 text-xs text-ink-3">and {p.lines.length - 200} more lines</p>
            )}
          </section>
        ))}
        <p className="text-xs text-ink-3">
          Debits are positive. Result accounts show their year to date.
        </p>
      </div>
    </PanelFrame>
  );
}
