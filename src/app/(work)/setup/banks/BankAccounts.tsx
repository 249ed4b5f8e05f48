"use client";
import Link from "next/link";
import { decimalText } from "@/core/shared";
import {
  bankAccountSchema,
  bankAddressText,
  ibanText,
  STATEMENT_FORMAT_NAMES,
  type AccountKind,
  type AccountRequest,
} from "@/core/banks";
import { currencyOptions, faultsOf } from "@/ui/form";
import type { BankAccount, BankRecord, SavedReading } from "@/server/banks";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { RecordPage, type RecordValues } from "@/ui/RecordPage";
import { saveRecordAction } from "../actions";
import { shownAmount, shownDate } from "@/ui/writing";
import { Agreement, SecondPerson } from "./Agreement";
import { Readings } from "./Readings";
import { Signature } from "./Signature";
import { followsFromBank, inputOf, NEW_BANK, USUAL } from "./bankOfAccount";

const WAITS: Readonly<Record<AccountRequest, string>> = {
  "": "",
  opening: "new, waits",
  change: "changed, waits",
  closing: "closing, waits",
};
const KINDS: Readonly<Record<AccountKind, string>> = {
  current: "Current",
  deposit: "Deposit",
  card: "Credit card",
  cash: "Cash box",
  clearing: "Clearing",
};
/** What an account takes from its bank; a new bank says it itself. */
const OF_THE_BANK = ["bankName", "bic", "country", "routing"];

/** The group's own bank accounts: what payments are made from. */
export function BankAccounts({
  rows,
  banks,
  ledgerAccounts,
  mayAddAccounts,
  mayChange,
  maySign,
  secondPerson,
  copied,
  readings,
}: {
  rows: BankAccount[];
  banks: BankRecord[];
  /** Numbers of the chart. */
  ledgerAccounts: string[];
  mayAddAccounts: boolean;
  mayChange: boolean;
  maySign: boolean;
  /** Whether a second person agrees to what is new or changed. */
  secondPerson: boolean;
  /** The account of which another currency is begun. */
  copied: BankAccount | null;
  /** How tables of the accounts are read. */
  readings: readonly SavedReading[];
}) {
  const work = useWork();
  const { dimensions } = work;
  const known = new Set(ledgerAccounts);
  // A company's next account is mostly at a bank where it has one.
  const own = new Set(rows.filter((r) => r.company === work.place.company).map((r) => r.bankId));
  const usual = banks.find((b) => own.has(b.id)) ?? banks[0];
  const isNew = (number: unknown) =>
    typeof number === "string" && number.trim() !== "" && !known.has(number.trim());
  const valuesOf = (r: BankAccount | null): RecordValues => ({
    code: r?.code ?? "",
    name: r?.name ?? "",
    company: r?.company ?? work.place.company,
    currency: r?.currency ?? work.company?.currency ?? "EUR",
    kind: r?.kind ?? "current",
    bankId: r ? String(r.bankId ?? "") : usual ? String(usual.id) : NEW_BANK,
    "newBank.name": "",
    "newBank.country": "",
    "newBank.nationalCode": "",
    "newBank.bic": "",
    newAccount: "",
    holder: r?.holder ?? "",
    signatories: r?.signatories ?? "",
    openedOn: r?.openedOn ?? "",
    closedOn: r?.closesOn ?? r?.closedOn ?? "",
    tolerance: r ? decimalText(r.tolerance, r.currency) : "0",
    iban: r ? ibanText(r.iban) : "",
    number: r?.number ?? "",
    routing: r?.routing ?? "",
    country: r ? r.country : (usual?.country ?? ""),
    bic: r ? r.bic : (usual?.bic ?? ""),
    bankName: r ? r.bankName : (usual?.name ?? ""),
    account: r?.account ?? "",
    underWayAccount: r?.underWayAccount ?? "1120",
    overdraft: r ? decimalText(r.overdraft, r.currency) : "0",
    refuse: r?.beyond === "refuse",
    largestPayment: r && r.largestPayment !== null ? decimalText(r.largestPayment, r.currency) : "",
    lastCheque: String(r?.lastCheque ?? 0),
    chequeSort: r?.chequeSort ?? "",
    chequeAccount: r?.chequeAccount ?? "",
    reviews: r?.reviews ?? [],
    postsCertain: r?.postsCertain ?? false,
    statementFormat: r?.statementFormat ?? "any",
    fromFolder: r?.fromFolder ?? true,
    matchesAtOnce: r?.matchesAtOnce ?? true,
    ...Object.fromEntries(
      dimensions.map((d) => [`${USUAL}${d.code}`, r?.dimensions[d.code] ?? ""]),
    ),
  });
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
        { key: "bank", header: "Bank", width: 150, value: (r) => r.bankName },
        { key: "company", header: "Company", width: 90, value: (r) => r.company },
        { key: "iban", header: "IBAN or number", width: 230, value: (r) => bankAddressText(r) },
        { key: "currency", header: "Currency", width: 78, value: (r) => r.currency },
        {
          key: "kind",
          header: "Kind",
          width: 110,
          value: (r) =>
            WAITS[r.waits] ||
            (r.closedOn ? `closed ${shownDate(r.closedOn)}` : (KINDS[r.kind] ?? r.kind)),
        },
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
        {
          key: "kind",
          label: "Kind",
          kind: "select",
          options: Object.entries(KINDS).map(([value, text]) => ({ value, text })),
        },
        {
          key: "bankId",
          label: "Bank",
          kind: "select",
          options: [
            ...banks.map((b) => ({ value: String(b.id), text: b.name })),
            { value: NEW_BANK, text: "A new bank" },
            { value: "", text: "Not in the list" },
          ],
        },
        { key: "newBank.name", label: "Name of the new bank", kind: "text", required: true },
        {
          key: "newBank.country",
          label: "Country",
          kind: "text",
          required: true,
          placeholder: "IE",
        },
        {
          key: "newBank.nationalCode",
          label: "Bank code, sort code or routing code",
          kind: "text",
        },
        { key: "newBank.bic", label: "BIC", kind: "text" },
        { key: "bankName", label: "Bank, as on cheques", kind: "text" },
        { key: "bic", label: "BIC", kind: "text" },
        { key: "country", label: "Country of the bank", kind: "text" },
        { key: "routing", label: "Routing code of the bank", kind: "text" },
        {
          key: "number",
          label: "Account number",
          kind: "text",
          hint: "An IBAN is proposed where the country builds it of bank code and number.",
        },
        { key: "iban", label: "IBAN", kind: "text" },
        {
          key: "account",
          label: "Account in the ledger",
          kind: "text",
          required: true,
          hint: "A bank's control account, of this account alone.",
        },
        {
          key: "newAccount",
          label: "Name of the new ledger account",
          kind: "text",
          hint: "This number is not in the chart yet: with a name it joins it.",
        },
        {
          key: "underWayAccount",
          label: "Money under way",
          kind: "text",
          required: true,
          hint: "A control account of kind transit: what has left but is on no statement yet.",
        },
        {
          key: "postsCertain",
          label: "What is certain of a statement is posted when it comes in",
          kind: "check",
        },
        ...dimensions.map((d) => ({
          key: `${USUAL}${d.code}`,
          label: `Usual ${d.name.toLowerCase()} of its lines`,
          kind: "text" as const,
        })),
        {
          key: "statementFormat",
          label: "Statements come as",
          kind: "select",
          options: Object.entries(STATEMENT_FORMAT_NAMES).map(([value, text]) => ({ value, text })),
        },
        { key: "fromFolder", label: "Statements may come by the watched folder", kind: "check" },
        {
          key: "matchesAtOnce",
          label: "Lines of a statement are matched when it comes in",
          kind: "check",
        },
        {
          key: "holder",
          label: "Holder",
          kind: "text",
          hint: "Where that is not the company.",
        },
        { key: "signatories", label: "Who may sign at the bank", kind: "text" },
        { key: "openedOn", label: "Open from", kind: "date" },
        { key: "closedOn", label: "Closed on", kind: "date" },
        { key: "overdraft", label: "May be overdrawn by", kind: "figure" },
        {
          key: "tolerance",
          label: "And by so much more before anything is said",
          kind: "figure",
        },
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
          key: "reviews",
          label: "A second person looks before these are undone",
          kind: "checks",
          options: [
            { value: "cheques", text: "Our cheques" },
            { value: "deposits", text: "Deposit slips" },
            { value: "payments", text: "Other payments" },
          ],
        },
      ]}
      begins={copied !== null}
      notice={<SecondPerson start={secondPerson} mayChange={maySign} />}
      toValues={(r) => (r === null && copied ? copyOf(valuesOf(copied)) : valuesOf(r))}
      shows={(v) =>
        Object.keys(v).filter(
          (key) =>
            (key.startsWith("newBank.") ? v.bankId === NEW_BANK : true) &&
            (OF_THE_BANK.includes(key) ? v.bankId !== NEW_BANK : true) &&
            (key !== "newAccount" || (mayAddAccounts && isNew(v.account))),
        )
      }
      derive={followsFromBank(banks)}
      check={(v) => faultsOf(bankAccountSchema, inputOf(v))}
      save={(v, r) =>
        saveRecordAction("bankAccount", { ...inputOf(v), ...(r ? { version: r.version } : {}) })
      }
      aside={(r) => (
        <>
          <Agreement account={r} />
          {mayChange && (
            <Link className="link" href={work.link("/setup/banks", { copy: r.code })}>
              The same in another currency
            </Link>
          )}
          {r.kind !== "cash" && work.may("prepare.banks") && (
            <Link className="link" href={work.link("/banks/transfers/new", { trial: r.code })}>
              Send a trial transfer to it
            </Link>
          )}
          {r.kind !== "cash" && (
            <Link className="link" href={work.link("/setup/banks/papers", { account: r.code })}>
              How its cheques, bills and notes look
            </Link>
          )}
          <Readings readings={readings.filter((x) => x.bank === r.code)} mayChange={mayChange} />
          {maySign && <Signature account={r} />}
        </>
      )}
    />
  );
}

/** What an account in another currency has of its own. */
const copyOf = (values: RecordValues): RecordValues => ({
  ...values,
  code: "",
  currency: "",
  iban: "",
  account: "",
  overdraft: "0",
  tolerance: "0",
  largestPayment: "",
  lastCheque: "0",
  openedOn: "",
  closedOn: "",
});
