import type { CandidateView, StatementLineView } from "@/server/banks";
import { shownAmount, shownDate, shownSentence } from "@/ui/writing";

/** One explanation of a line: what it takes, and what speaks for and against it. */
export function CandidateCard({
  candidate: c,
  line,
  chosen,
  onChoose,
}: {
  candidate: CandidateView;
  line: StatementLineView;
  chosen: boolean;
  onChoose: () => void;
}) {
  return (
    <button
      type="button"
      role="radio"
      aria-checked={chosen}
      className={`rounded-lg border px-3 py-2 text-left ${chosen ? "border-sea bg-sea-2/40" : "border-line"}`}
      onClick={onChoose}
    >
      <span className="flex items-baseline gap-2">
        <b className="font-semibold">
          {c.partnerName ||
            c.kindName ||
            (c.transfer ? transferName(c.transfer) : "") ||
            (c.coding ? `Account ${c.coding.account}` : "Money under way")}
        </b>
        <span className="text-ink-2">{whatOf(c)}</span>
      </span>
      {c.takes.map((t, i) => (
        <span key={i} className="flex items-baseline gap-2 text-[12.5px]">
          <span className="min-w-0 flex-1 truncate">
            {t.item
              ? `${t.item.document.number ?? t.item.reference}, due ${shownDate(t.item.due)}`
              : "an item that is not open any more"}
          </span>
          <span className="figure-text">{shownAmount(t.amount, line.currency)}</span>
        </span>
      ))}
      <span className="mt-1 flex flex-col gap-0.5 text-[12.5px]">
        {c.reasons.map((r, i) => (
          <span key={i} className="flex gap-2">
            <span
              className={`w-8 shrink-0 text-right font-semibold ${r.weight < 0 ? "text-coral" : "text-moss"}`}
            >
              {r.weight < 0 ? "−" : "+"}
              {Math.abs(r.weight)}
            </span>
            <span className="text-ink-2">{shownSentence(r.says)}</span>
          </span>
        ))}
      </span>
    </button>
  );
}

function whatOf(c: CandidateView): string {
  if (c.transfer?.company) return "own side";
  if (c.transfer) return c.transfer.line === null ? "one side" : "both sides";
  if (c.onAccount) return "on account";
  if (c.kind || c.coding) return "by its coding";
  const isPart = c.takes.some((t) => t.item && t.amount !== t.item.left);
  const count = c.takes.length === 1 ? "one item" : `${c.takes.length} items`;
  return isPart ? `${count}, in part` : count;
}

const transferName = ({ code, company }: { code: string; company?: string }): string =>
  company ? `Between companies, ${code} of ${company}` : `Own transfer, ${code}`;
