import { codedRest, type LineCoding } from "@/core/banks";
import { describeFound, minor, type Minor } from "@/core/shared";
import type { BankCodings, StatementLineView, TakeView } from "@/server/banks";
import { shownAmount, shownSentence } from "@/ui/writing";
import { factsOf } from "../coding/codingFields";

interface Props {
  line: StatementLineView;
  codings: BankCodings | null;
  takes: readonly TakeView[];
  /** What is not taken of items, and its coding; null where it goes elsewhere or nowhere yet. */
  rest: Minor;
  coding: LineCoding | null;
  /** What stands for it where it has no coding. */
  restName: string;
}

interface Row {
  name: string;
  amount: bigint;
}

/** What a line would be posted as, a debit positive, in the currency of the account. */
export function PostingOfLine({ line, codings, takes, rest, coding, restName }: Props) {
  const left = rest === 0n ? { rows: [], fault: "" } : rowsOfRest(line, codings, rest, coding);
  const rows = [
    { name: line.bank.account, amount: line.amount as bigint },
    ...takes.map((t) => ({
      name: t.item
        ? `${t.item.account} ${t.item.partnerName || "Money under way"} · ${t.item.document.number ?? t.item.reference}`
        : "an item that is not open any more",
      amount: -(t.amount as bigint),
    })),
    ...(takes.some((t) => t.discount !== 0n)
      ? [
          {
            name: "Discounts allowed",
            amount: takes.reduce((t, x) => t + (x.discount as bigint), 0n),
          },
        ]
      : []),
    ...(left.rows ?? [{ name: restName, amount: -rest }]),
  ];
  return (
    <section aria-label="What will be posted">
      <h3 className="mb-1 font-semibold">What will be posted</h3>
      <table className="w-full text-[12.5px]">
        <tbody>
          {rows.map((r, i) => (
            <tr key={i} className="border-t border-line">
              <td className="py-1 pr-2">{r.name}</td>
              <td className="whitespace-nowrap py-1 text-right">
                {shownAmount(minor(r.amount), line.currency)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {left.fault && <p className="mt-1 text-xs text-coral">{shownSentence(left.fault)}</p>}
    </section>
  );
}

/** The parts of what is left, by their accounts; no rows where it has no account yet. */
function rowsOfRest(
  line: StatementLineView,
  codings: BankCodings | null,
  rest: Minor,
  coding: LineCoding | null,
): { rows: Row[] | null; fault: string } {
  if (!codings || !coding || coding.account === "") return { rows: null, fault: "" };
  const made = codedRest(coding, rest, line, factsOf(codings));
  if (!made.ok) return { rows: null, fault: made.problems.map(describeFound).join(" ") };
  const nameOf = (account: string): string =>
    codings.accounts.find((a) => a.code === account)?.name ?? "";
  return {
    rows: made.value.parts.map((p) => ({
      // The line of a tax says what it was computed from.
      name: [p.account, nameOf(p.account) || p.text, ...Object.values(p.dimensions)].join(" "),
      amount: -p.amount,
    })),
    fault: "",
  };
}
