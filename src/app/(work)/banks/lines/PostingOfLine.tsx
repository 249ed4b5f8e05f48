import type { StatementLineView, TakeView } from "@/server/banks";
import { shownAmount } from "@/ui/writing";

/** What a line would be posted as, a debit positive, in the currency of the account. */
export function PostingOfLine({
  line,
  takes,
  rest,
  restName,
}: {
  line: StatementLineView;
  takes: readonly TakeView[];
  rest: bigint;
  restName: string;
}) {
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
    ...(rest === 0n ? [] : [{ name: restName, amount: -rest }]),
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
                {shownAmount(r.amount as never, line.currency)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
