"use client";
import Link from "next/link";
import { useRef } from "react";
import { PAYMENT_METHODS, PURPOSE_CODES } from "@/core/banks";
import { partnerSchema, type PartnerInput } from "@/core/partners";
import { currencyOptions, faultsOf } from "@/ui/form";
import { LANGUAGE_NAMES, LETTER_LANGUAGES } from "@/core/letters";
import type { PartnerRow } from "@/server/partners";
import { useWork } from "@/ui/frame/work";
import { FileLoad } from "@/ui/FileLoad";
import { Empty } from "@/ui/Page";
import { RecordPage, type RecordField, type RecordValues } from "@/ui/RecordPage";
import { ExportMenu } from "../(work)/statements/[code]/StatementActions";
import { partnerPage } from "./AgeingTable";
import { sendTable } from "@/app/lib/sendFile";
import { partnersLikeAction, savePartnerAction } from "./actions";

/**
 * Suppliers or customers: the list with the form of the chosen one beside it. What is like another
 * is pointed out before it is saved.
 */
export function PartnerList({
  role,
  rows,
  terms,
  taxes,
  mayChange,
}: {
  role: "supplier" | "customer";
  rows: PartnerRow[];
  terms: { code: string; name: string }[];
  taxes: { code: string; name: string }[];
  mayChange: boolean;
}) {
  const work = useWork();
  const warned = useRef("");
  const area = role === "supplier" ? "payables" : "receivables";
  const fields: RecordField[] = [
    { key: "code", label: "Number", kind: "text", required: true, fixed: true },
    { key: "name", label: "Name", kind: "text", required: true },
    { key: "street", label: "Street", kind: "text" },
    { key: "postcode", label: "Postcode", kind: "text" },
    { key: "city", label: "City", kind: "text" },
    {
      key: "country",
      label: "Country",
      kind: "text",
      required: true,
      placeholder: "IE",
      hint: "Two letters (ISO 3166).",
    },
    { key: "taxNumber", label: "Tax number", kind: "text" },
    { key: "lei", label: "Legal entity identifier", kind: "text" },
    {
      key: "language",
      label: "Language of letters",
      kind: "select",
      options: LETTER_LANGUAGES.map((l) => ({ value: l, text: LANGUAGE_NAMES[l] })),
    },
    { key: "email", label: "E-mail", kind: "text" },
    {
      key: "terms",
      label: "Terms of payment",
      kind: "select",
      options: [
        { value: "", text: "none" },
        ...terms.map((t) => ({ value: t.code, text: t.name })),
      ],
    },
    {
      key: "method",
      label: role === "supplier" ? "Paid by" : "Pays by",
      kind: "select",
      options: PAYMENT_METHODS.map((m) => ({ value: m, text: m })),
    },
    ...(role === "supplier"
      ? [
          {
            key: "purpose",
            label: "Purpose of its payments",
            kind: "select" as const,
            options: [
              { value: "", text: "Supplier payment" },
              ...Object.entries(PURPOSE_CODES).map(([value, text]) => ({
                value,
                text: `${value} ${text}`,
              })),
            ],
            hint: "As banks are told (ISO 20022).",
          },
        ]
      : []),
    {
      key: "currency",
      label: "Currency",
      kind: "select",
      options: [
        { value: "", text: "the company's" },
        ...currencyOptions(work.companies.map((c) => c.currency)),
      ],
    },
    { key: "account", label: "Usual account", kind: "text" },
    ...work.dimensions.map((d): RecordField => ({
      key: `d.${d.code}`,
      label: `Usual ${d.name.toLowerCase()}`,
      kind: "text",
    })),
    ...(role === "supplier"
      ? [
          {
            key: "taxCode",
            label: "Usual tax code",
            kind: "select" as const,
            options: [
              { value: "", text: "none" },
              ...taxes.map((t) => ({ value: t.code, text: `${t.code} ${t.name}` })),
            ],
          },
          {
            key: "shares",
            label: "Usual shares",
            kind: "text" as const,
            hint: "Code of shares that split its invoices.",
          },
        ]
      : []),
    {
      key: "hold",
      label: "On hold, because",
      kind: "text",
      hint: "While a reason stands here, nothing is paid.",
    },
    { key: "customer", label: "Is a customer", kind: "check" },
    { key: "supplier", label: "Is a supplier", kind: "check" },
    { key: "blocked", label: "Blocked: takes no more postings", kind: "check" },
  ];
  const toValues = (p: PartnerRow | null): RecordValues => ({
    code: p?.code ?? "",
    name: p?.name ?? "",
    street: p?.street ?? "",
    postcode: p?.postcode ?? "",
    city: p?.city ?? "",
    country: p?.country ?? "IE",
    taxNumber: p?.taxNumber ?? "",
    lei: p?.lei ?? "",
    language: p?.language ?? "en",
    email: p?.email ?? "",
    terms: p?.terms ?? "",
    method: p?.method ?? "transfer",
    purpose: p?.purpose ?? "",
    currency: p?.currency ?? "",
    account: p?.account ?? "",
    ...Object.fromEntries(work.dimensions.map((d) => [`d.${d.code}`, p?.dimensions[d.code] ?? ""])),
    taxCode: p?.taxCode ?? "",
    shares: p?.shares ?? "",
    hold: p?.hold ?? "",
    customer: p?.customer ?? role === "customer",
    supplier: p?.supplier ?? role === "supplier",
    blocked: p?.blocked ?? false,
  });
  const inputOf = (v: RecordValues): Partial<PartnerInput> => ({
    ...(v as unknown as PartnerInput),
    terms: String(v.terms) || null,
    currency: String(v.currency) || null,
    taxCode: String(v.taxCode ?? ""),
    dimensions: Object.fromEntries(
      work.dimensions.flatMap((d) =>
        v[`d.${d.code}`] ? [[d.code, String(v[`d.${d.code}`])]] : [],
      ),
    ),
  });
  const save = async (v: RecordValues, p: PartnerRow | null) => {
    const like = await partnersLikeAction({ code: v.code, name: v.name, taxNumber: v.taxNumber });
    const told = like.ok
      ? like.value.map((l) => `${l.code} ${l.name} has ${l.why}.`).join(" ")
      : "";
    if (told && warned.current !== told) {
      warned.current = told;
      return {
        ok: false as const,
        message: told,
        problems: [
          { field: null, message: `${told} If it is another one all the same, save again.` },
        ],
      };
    }
    return savePartnerAction({ ...inputOf(v), ...(p ? { version: p.version } : {}) });
  };
  return (
    <RecordPage<PartnerRow>
      title={role === "supplier" ? "Suppliers" : "Customers"}
      note="of the whole group"
      name={`${role}s`}
      rows={rows}
      rowKey={(p) => p.code}
      mayChange={mayChange}
      add={role === "supplier" ? "Add a supplier" : "Add a customer"}
      fields={fields}
      toValues={toValues}
      check={(v) => faultsOf(partnerSchema, inputOf(v))}
      save={save}
      empty={
        <Empty title={role === "supplier" ? "No supplier yet" : "No customer yet"}>
          Add them one by one, or load them from a file.
        </Empty>
      }
      actions={
        <>
          {mayChange && (
            <FileLoad label="Load" what={`${role}s`} load={sendTable("partners", { role })} />
          )}
          <ExportMenu path="/export/partners" formats={["csv", "xlsx"]} more={{ role }} />
          {role === "supplier" && (
            <Link className="button" href={work.link("/payables/terms")}>
              Terms
            </Link>
          )}
        </>
      }
      columns={[
        { key: "code", header: "Number", width: 100, value: (p) => p.code },
        {
          key: "name",
          header: "Name",
          value: (p) => p.name,
          cell: (p) => <b className="font-semibold">{p.name}</b>,
        },
        { key: "city", header: "City", width: 120, value: (p) => p.city },
        { key: "country", header: "Country", width: 76, value: (p) => p.country },
        {
          key: "terms",
          header: "Terms",
          width: 190,
          value: (p) => terms.find((t) => t.code === p.terms)?.name ?? "",
        },
        {
          key: "method",
          header: role === "supplier" ? "Paid by" : "Pays by",
          width: 90,
          value: (p) => p.method,
        },
        {
          key: "bank",
          header: "Bank account",
          width: 116,
          value: (p) => p.bank,
          cell: (p) => (
            <span
              className={
                p.bank === "waiting" ? "text-coral" : p.bank === "none" ? "text-ink-3" : ""
              }
            >
              {p.bank === "waiting" ? "to confirm" : p.bank}
            </span>
          ),
        },
        { key: "hold", header: "On hold", width: 180, value: (p) => p.hold },
      ]}
      aside={(p) => (
        <Link className="link font-semibold" href={work.link(partnerPage(area, p.code))}>
          What is open, and everything done with {p.name}
        </Link>
      )}
    />
  );
}
