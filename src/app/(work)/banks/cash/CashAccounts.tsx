import Link from "next/link";
import { minor } from "@/core/shared";
import type { CashAccount } from "@/server/cash";
import { useWork } from "@/ui/frame/work";
import { shownAmount, shownDay } from "@/ui/writing";

/** Each bank account as it stands, with what the bank said last; sums by currency. */
export function CashAccounts({
  accounts,
  currency,
}: {
  accounts: readonly CashAccount[];
  currency: string;
}) {
  const work = useWork();
  const currencies = [...new Set(accounts.map((a) => a.currency))].sort();
  return (
    <table className="sheet mb-3">
      <thead>
        <tr>
          <th className="w-32">Account</th>
          <th>Bank</th>
          <th className="w-20">Company</th>
          <th className="num w-40">Balance</th>
          <th className="w-16">Currency</th>
          <th className="num w-40">In {currency}</th>
          <th className="w-44">Bank’s last statement</th>
          <th className="w-32">Not posted</th>
        </tr>
      </thead>
      <tbody>
        {accounts.map((a) => (
          <tr key={a.code}>
            <td>
              <Link
                className="link font-semibold"
                href={work.link("/banks", { company: a.company, account: a.code })}
              >
                {a.code}
              </Link>
            </td>
            <td className="truncate">{a.bank || a.name}</td>
            <td>{a.company}</td>
            <td className="num">{shownAmount(a.balance, a.currency)}</td>
            <td>{a.currency}</td>
            <td className="num">{a.inOne === null ? "no rate" : shownAmount(a.inOne, currency)}</td>
            <td>
              {a.statement
                ? `${shownAmount(a.statement.closing, a.currency)} on ${shownDay(a.statement.date)}`
                : "none"}
            </td>
            <td>
              {a.notPosted.count === 0 ? (
                ""
              ) : (
                <Link className="link" href={work.link("/banks/lines", { company: a.company })}>
                  {a.notPosted.count} {a.notPosted.count === 1 ? "line" : "lines"}
                </Link>
              )}
            </td>
          </tr>
        ))}
      </tbody>
      {currencies.length > 1 && (
        <tfoot>
          {currencies.map((c) => (
            <tr key={c}>
              <td colSpan={3}>All in {c}</td>
              <td className="num">
                {shownAmount(
                  minor(
                    accounts.filter((a) => a.currency === c).reduce((t, a) => t + a.balance, 0n),
                  ),
                  c,
                )}
              </td>
              <td colSpan={4}>{c}</td>
            </tr>
          ))}
        </tfoot>
      )}
    </table>
  );
}
