"use client";
import { useEffect, useState } from "react";
import { saleInput, type SaleInput } from "@/core/receivables";
import { amountText, minor } from "@/core/shared";
import type { PrepaymentRow } from "@/server/receivables";
import { shownAmount, shownDate } from "@/ui/writing";
import { prepaymentsAction } from "../actions";

type Line = SaleInput["lines"][number];

/** What a customer was asked for ahead and nobody has set off yet, each to be taken into the lines. */
export function SetOff({
  company,
  customer,
  lines,
  onTake,
}: {
  company: string;
  customer: string;
  lines: readonly Line[];
  onTake: (line: Line) => void;
}) {
  const [found, setFound] = useState<{ of: string; list: PrepaymentRow[] }>({ of: "", list: [] });
  const of = `${company} ${customer}`;
  useEffect(() => {
    let isLatest = true;
    void prepaymentsAction(company, customer).then(
      (result) => isLatest && result.ok && setFound({ of, list: result.value }),
      () => undefined,
    );
    return () => {
      isLatest = false;
    };
  }, [company, customer, of]);
  const taken = (p: PrepaymentRow) =>
    lines.some((l) => l.setsOff.toUpperCase() === p.number && l.taxCode === p.taxCode);
  const open = found.of === of ? found.list.filter((p) => !taken(p)) : [];
  return open.map((p) => (
    <p key={`${p.number} ${p.taxCode}`} className="notice flex items-center gap-2">
      <span className="min-w-0 flex-1">
        {shownAmount(p.left, p.currency)} {p.currency} net under {p.taxCode} were asked for ahead by{" "}
        {p.number} of {shownDate(p.date)}
        {p.paid ? "." : ", and are not paid yet."}
      </span>
      <button
        type="button"
        className="button h-7"
        onClick={() =>
          onTake(
            saleInput({
              lines: [
                {
                  description: `Prepayment ${p.number}`,
                  net: amountText(minor(-p.left), p.currency),
                  taxCode: p.taxCode,
                  setsOff: p.number,
                },
              ],
            }).lines[0]!,
          )
        }
      >
        Set off
      </button>
    </p>
  ));
}
