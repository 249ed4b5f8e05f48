"use client";
import type { AccountPurpose } from "@/core/ledger";
import { Empty } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { saveRecordAction } from "../actions";

interface Row {
  purpose: AccountPurpose;
  account: string;
  name: string;
}
const WORDS: Record<AccountPurpose, string> = {
  rounding: "Rounding of foreign currencies",
  exchangeGain: "Exchange gains of settled items",
  exchangeLoss: "Exchange losses of settled items",
  discountReceived: "Discounts received",
  discountAllowed: "Discounts allowed",
  writeOff: "Differences written off",
  badDebts: "Bad debts and expected credit losses",
  lossAllowance: "Allowance for expected credit losses",
  billsReceivable: "Bills and notes receivable",
  billsPayable: "Bills and notes payable",
  priceVariance: "Price differences to orders",
  quantityVariance: "Quantity differences to goods receipts",
};

/** The accounts that the system posts to by itself. */
export function PostingAccounts({ rows, mayChange }: { rows: Row[]; mayChange: boolean }) {
  return (
    <RecordPage<Row>
      title="Default accounts"
      note="what the system posts to by itself"
      name="posting"
      rows={rows}
      rowKey={(r) => r.purpose}
      mayChange={mayChange}
      add={null}
      empty={<Empty title="Nothing to set" />}
      columns={[
        { key: "purpose", header: "Purpose", value: (r) => WORDS[r.purpose] },
        { key: "account", header: "Account", width: 120, value: (r) => r.account },
        { key: "name", header: "Name", value: (r) => r.name },
      ]}
      fields={[{ key: "account", label: "Account", kind: "text", required: true }]}
      toValues={(r) => ({ account: r?.account ?? "" })}
      save={(v, r) => saveRecordAction("purpose", { purpose: r?.purpose, account: v.account })}
    />
  );
}
