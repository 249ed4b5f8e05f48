"use client";
import { useState } from "react";
import { decimalText } from "@/core/shared";
import { bankAccountSchema, bankAddressText, ibanText } from "@/core/banks";
import { currencyOptions, faultsOf } from "@/ui/form";
import type { BankAccount } from "@/server/banks";
import { useAct } from "@/app/lib/useAct";
import { useWork } from "@/ui/frame/work";
import { Empty, Problems } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { saveRecordAction } from "../actions";
import { shownAmount } from "@/ui/writing";

/** The group's own bank accounts: what payments are made from. */
export function BankAccounts({
  rows,
  mayChange,
  maySign,
}: {
  rows: BankAccount[];
  mayChange: boolean;
  maySign: boolean;
}) {
  const work = useWork();
  return (
    <RecordPage<BankAccount>
      title="Bank accounts"
      note="what payments are made from"
      name="bank-accounts"
      rows={rows}
      rowKey={(r) => r.code}
      mayChange={mayChange}
      add="Add a bank account"
      empty={<Empty title="No bank account yet">Payments need one to be made from.</Empty>}
      columns={[
        {
          key: "code",
          header: "Code",
          width: 110,
          value: (r) => r.code,
          cell: (r) => <b className="font-semibold">{r.code}</b>,
        },
        { key: "name", header: "Name", value: (r) => r.name },
        { key: "company", header: "Company", width: 90, value: (r) => r.company },
        { key: "iban", header: "IBAN or number", width: 230, value: (r) => bankAddressText(r) },
        { key: "currency", header: "Currency", width: 78, value: (r) => r.currency },
        { key: "account", header: "Account", width: 84, value: (r) => r.account },
        {
          key: "underWay",
          header: "In-transit account",
          width: 148,
          value: (r) => r.underWayAccount,
        },
        {
          key: "overdraft",
          header: "Overdraft",
          width: 130,
          align: "right",
          value: (r) => r.overdraft,
          cell: (r) => shownAmount(r.overdraft, r.currency),
        },
        {
          key: "lastCheque",
          header: "Last cheque",
          width: 100,
          align: "right",
          value: (r) => (r.lastCheque ? String(r.lastCheque) : ""),
        },
      ]}
      fields={[
        { key: "code", label: "Code", kind: "text", required: true, fixed: true },
        { key: "name", label: "Name", kind: "text", required: true },
        {
          key: "company",
          label: "Company",
          kind: "select",
          options: work.companies.map((c) => ({ value: c.code, text: c.name })),
        },
        {
          key: "currency",
          label: "Currency",
          kind: "select",
          required: true,
          options: currencyOptions(work.companies.map((c) => c.currency)),
        },
        { key: "iban", label: "IBAN", kind: "text" },
        { key: "bic", label: "BIC", kind: "text" },
        { key: "number", label: "Account number, without an IBAN", kind: "text" },
        { key: "routing", label: "Routing code of the bank", kind: "text" },
        { key: "country", label: "Country of the bank", kind: "text" },
        { key: "bankName", label: "Bank, as on cheques", kind: "text" },
        {
          key: "account",
          label: "Account in the ledger",
          kind: "text",
          required: true,
          hint: "A bank's control account.",
        },
        {
          key: "underWayAccount",
          label: "Money under way",
          kind: "text",
          required: true,
          hint: "A control account of kind transit: what has left but is on no statement yet.",
        },
        { key: "overdraft", label: "May be overdrawn by", kind: "figure" },
        { key: "refuse", label: "Refuse payments beyond that", kind: "check" },
        {
          key: "largestPayment",
          label: "Largest single payment",
          kind: "text",
          hint: "A larger one stands in the way of its run. Empty for any amount.",
        },
        { key: "lastCheque", label: "Number of the last cheque", kind: "text" },
        { key: "chequeSort", label: "Sort code on cheques", kind: "text" },
        { key: "chequeAccount", label: "Account on cheques", kind: "text" },
        {
          key: "chequeReview",
          label: "A second person looks before a posted cheque is cancelled",
          kind: "check",
        },
      ]}
      toValues={(r) => ({
        code: r?.code ?? "",
        name: r?.name ?? "",
        company: r?.company ?? work.place.company,
        currency: r?.currency ?? work.company?.currency ?? "EUR",
        iban: r ? ibanText(r.iban) : "",
        number: r?.number ?? "",
        routing: r?.routing ?? "",
        country: r?.country ?? "",
        bic: r?.bic ?? "",
        bankName: r?.bankName ?? "",
        account: r?.account ?? "",
        underWayAccount: r?.underWayAccount ?? "1120",
        overdraft: r ? decimalText(r.overdraft, r.currency) : "0",
        refuse: r?.beyond === "refuse",
        largestPayment:
          r && r.largestPayment !== null ? decimalText(r.largestPayment, r.currency) : "",
        lastCheque: String(r?.lastCheque ?? 0),
        chequeSort: r?.chequeSort ?? "",
        chequeAccount: r?.chequeAccount ?? "",
        chequeReview: r?.chequeCancelling === "review",
      })}
      check={(v) => faultsOf(bankAccountSchema, v)}
      save={(v, r) =>
        saveRecordAction("bankAccount", { ...v, ...(r ? { version: r.version } : {}) })
      }
      aside={(r) => (maySign ? <Signature account={r} /> : null)}
    />
  );
}

/** The picture of the signature that cheques of the account carry. */
function Signature({ account }: { account: BankAccount }) {
  const { busy, messages, setMessages, act } = useAct();
  const [name, setName] = useState("");
  const take = async (file: File) => {
    setName(file.name);
    if (file.size > 200_000)
      return setMessages(["A signature is a PNG picture of at most 200 kB."]);
    const bytes = new Uint8Array(await file.arrayBuffer());
    let binary = "";
    for (const byte of bytes) binary += String.fromCharCode(byte);
    await act(
      () => saveRecordAction("signature", { code: account.code, picture: btoa(binary) }),
      "Cheques carry this signature from now on.",
    );
  };
  return (
    <div>
      <label className="label" htmlFor="signature">
        Signature on cheques (PNG){account.signed ? ", there is one" : ", none yet"}
      </label>
      <input
        id="signature"
        type="file"
        accept="image/png"
        disabled={busy}
        onChange={(e) => e.target.files?.[0] && void take(e.target.files[0])}
      />
      {name && <p className="pt-0.5 text-xs text-ink-3">{name}</p>}
      <Problems messages={messages} />
    </div>
  );
}
