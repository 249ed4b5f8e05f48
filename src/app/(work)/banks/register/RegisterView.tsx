"use client";
import Link from "next/link";
import { useMemo, useState } from "react";
import { documentPage } from "@/core/documents";
import type { AccountKind } from "@/core/banks";
import { minor } from "@/core/shared";
import type { BankCodings, BankRegister, MovementKind, RegisterRow } from "@/server/banks";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useWork } from "@/ui/frame/work";
import { Empty, Fact, Page } from "@/ui/Page";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownAmount, shownDate } from "@/ui/writing";
import { CashEntryForm } from "./CashEntryForm";

/** So many groups of kinds have their sum in sight; the others have one together. */
const IN_SIGHT = 4;

export interface RegisterAccount {
  id: number;
  code: string;
  name: string;
  currency: string;
  kind: AccountKind;
}

/** An account's movements with what each was made by, and what was held after it. */
export function RegisterView({
  register,
  accounts,
  kinds,
  codings,
}: {
  register: BankRegister | null;
  accounts: RegisterAccount[];
  kinds: MovementKind[];
  codings: BankCodings | null;
}) {
  const work = useWork();
  const [isWriting, setWriting] = useState(false);
  const isCash = register?.kind === "cash";
  const mayWrite = isCash && work.may("post.banks");
  const others = register?.groups.slice(IN_SIGHT) ?? [];
  const currency = register?.currency ?? "EUR";
  const columns = useMemo((): TableColumn<RegisterRow>[] => {
    const amount = (key: string, header: string, of: (r: RegisterRow) => bigint | null) => ({
      key,
      header,
      width: 128,
      align: "right" as const,
      value: (r: RegisterRow) => of(r) ?? "",
      cell: (r: RegisterRow) => {
        const found = of(r);
        return found === null ? "" : shownAmount(found as never, currency);
      },
    });
    const madeBy: TableColumn<RegisterRow> = {
      key: "document",
      header: "Made by",
      width: 138,
      value: (r) => r.document?.number ?? "",
      cell: (r) =>
        r.document && (
          <Link className="link" href={work.link(documentPage(r.document.kind, r.document.id))}>
            {r.document.number}
          </Link>
        ),
    };
    return [
      {
        key: "date",
        header: "Date",
        width: 104,
        value: (r) => r.date,
        cell: (r) => shownDate(r.date),
      },
      {
        key: "number",
        header: "Journal",
        width: 128,
        value: (r) => r.number,
        cell: (r) => (
          <Link className="link" href={work.link(`/ledger/journals/${r.id}`)}>
            {r.number}
          </Link>
        ),
      },
      { key: "text", header: "Text", value: (r) => r.text },
      ...(isCash ? [] : [madeBy]),
      amount("in", isCash ? "Put in" : "Money in", (r) => (r.amount > 0n ? r.amount : null)),
      amount("out", isCash ? "Taken out" : "Money out", (r) => (r.amount < 0n ? -r.amount : null)),
      amount("balance", "Balance", (r) => r.balance),
      {
        key: "line",
        header: isCash ? "Status" : "Statement",
        width: isCash ? 84 : 120,
        value: (r) => statusOf(r, isCash),
        cell: (r) =>
          r.line ? (
            <Link
              className="link"
              href={work.link("/banks/lines", { line: String(r.line.id), status: "all" })}
            >
              {r.line.statement}
            </Link>
          ) : (
            <span className="text-ink-2">{statusOf(r, isCash)}</span>
          ),
      },
    ];
  }, [currency, isCash, work]);
  return (
    <Page
      strip={<PeriodStrip range />}
      title={isCash ? "Cash book" : "Bank register"}
      note={register ? `${register.code} ${register.name}, ${register.currency}` : ""}
      actions={
        <>
          {accounts.length > 1 && (
            <select
              aria-label="Bank account"
              className="field w-60"
              value={register?.code ?? ""}
              onChange={(e) => work.go({ account: e.target.value })}
            >
              {accounts.map((a) => (
                <option key={a.code} value={a.code}>
                  {a.code} {a.name}, {a.currency}
                </option>
              ))}
            </select>
          )}
          {mayWrite && (
            <button type="button" className="button button-main" onClick={() => setWriting(true)}>
              Add an entry
            </button>
          )}
        </>
      }
      footer={
        register && (
          <>
            <Fact label={`Opening balance, ${currency}`}>
              {shownAmount(register.opening, currency)}
            </Fact>
            <Fact label="Closing balance">{shownAmount(register.closing, currency)}</Fact>
            {register.groups.slice(0, IN_SIGHT).map((g) => (
              <Fact key={g.name} label={g.name}>
                {shownAmount(minor(g.in - g.out), currency)}
              </Fact>
            ))}
            {others.length > 0 && (
              <Fact label={`${others.length} more ${others.length === 1 ? "group" : "groups"}`}>
                {shownAmount(minor(others.reduce((t, g) => t + g.in - g.out, 0n)), currency)}
              </Fact>
            )}
          </>
        )
      }
      panel={
        isWriting &&
        mayWrite &&
        codings && (
          <CashEntryForm
            box={register}
            accounts={accounts}
            kinds={kinds}
            codings={codings}
            onClose={() => setWriting(false)}
          />
        )
      }
    >
      <DataTable
        name="bank-register"
        rows={register?.rows ?? []}
        of={register && register.of > register.rows.length ? register.of : undefined}
        columns={columns}
        rowKey={(r) => `${r.id} ${r.balance} ${r.amount}`}
        currency={currency}
        empty={
          register ? (
            <Empty title="Nothing moved">
              Nothing is posted on {register.code} in this period.
              {!isCash && " What the bank says and nobody has posted stands among the "}
              {!isCash && (
                <Link className="link" href={work.link("/banks/lines")}>
                  statement lines
                </Link>
              )}
              {!isCash && "."}
            </Empty>
          ) : (
            <Empty title="No bank account yet">
              <Link className="link" href={work.link("/setup/banks")}>
                Enter the company’s bank accounts
              </Link>{" "}
              first.
            </Empty>
          )
        }
      />
    </Page>
  );
}

const statusOf = (r: RegisterRow, isCash: boolean): string =>
  r.reversed ? "reversed" : isCash ? "posted" : r.line ? r.line.statement : "on no statement";
