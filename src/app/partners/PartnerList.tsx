"use client";
import Link from "next/link";
import { useRef } from "react";
import { partnerSchema } from "@/core/partners";
import { faultsOf } from "@/ui/form";
import type { PartnerRow } from "@/server/partners";
import { useWork } from "@/ui/frame/work";
import { FileLoad } from "@/ui/FileLoad";
import { Empty } from "@/ui/Page";
import { RecordPage, type RecordValues } from "@/ui/RecordPage";
import { ExportMenu } from "../(work)/statements/[code]/StatementActions";
import { partnerPage } from "./AgeingTable";
import { sendTable } from "@/app/lib/sendFile";
import {
  partnerFields,
  partnerInput,
  partnerShows,
  partnerValues,
  type PartnerFormFacts,
} from "./partnerForm";
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
  collectors,
  groups,
  mayChange,
}: {
  role: "supplier" | "customer";
  rows: PartnerRow[];
  terms: { code: string; name: string }[];
  taxes: { code: string; name: string }[];
  /** Who may collect: sign-in names and names. */
  collectors: { code: string; name: string }[];
  groups: { code: string; name: string }[];
  mayChange: boolean;
}) {
  const work = useWork();
  const warned = useRef("");
  const area = role === "supplier" ? "payables" : "receivables";
  const known: PartnerFormFacts = {
    role,
    terms,
    taxes,
    collectors,
    groups,
    companies: work.companies,
    dimensions: work.dimensions,
    today: work.today,
  };
  const toValues = (p: PartnerRow | null) => partnerValues(p, known);
  const inputOf = (v: RecordValues) => partnerInput(v, known);
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
      fields={partnerFields(known)}
      shows={partnerShows(known)}
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
          <ExportMenu
            path="/export/partners"
            formats={["csv", "xlsx"]}
            more={{ role }}
            label="Export all fields"
          />
          {role === "customer" && (
            <>
              {mayChange && (
                <FileLoad label="Load contacts" what="contacts" load={sendTable("contacts")} />
              )}
              <ExportMenu
                path="/export/contacts"
                formats={["csv", "xlsx"]}
                label="Export contacts"
              />
            </>
          )}
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
