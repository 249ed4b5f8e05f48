"use client";
import { useState } from "react";
import { ibanText } from "@/core/banks";
import {
  DEBIT_SCHEME_NAMES,
  DEBIT_SCHEMES,
  MANDATE_KINDS,
  mandateSchema,
  USUAL_NOTICE,
} from "@/core/receivables";
import { dateText, readDate } from "@/core/shared";
import type { MandateRow } from "@/server/receivables";
import { sendTable } from "@/app/lib/sendFile";
import { useAct } from "@/app/lib/useAct";
import { faultsOf, type RecordValues } from "@/ui/form";
import { DateField } from "@/ui/date/DateField";
import { FileLoad } from "@/ui/FileLoad";
import { useWork } from "@/ui/frame/work";
import { Empty, Problems } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { shownDate } from "@/ui/writing";
import { ExportMenu } from "../../statements/[code]/StatementActions";
import { endMandateAction, saveMandateAction } from "../debits/actions";

/** What customers have signed: by which mandate each can be debited. */
export function MandatesPage({
  rows,
  partner,
  mayChange,
}: {
  rows: MandateRow[];
  /** Of whom the page was opened for a new one; "" for nobody. */
  partner: string;
  mayChange: boolean;
}) {
  const work = useWork();
  const mandateOf = (v: RecordValues, row: MandateRow | null) => ({
    ...(row ? { id: row.id } : {}),
    company: work.place.company,
    partner: String(v.partner).trim(),
    reference: String(v.reference),
    signed: readDate(String(v.signed), work.today) ?? String(v.signed),
    scheme: v.scheme,
    kind: v.kind,
    iban: String(v.iban),
    bic: String(v.bic),
    holder: String(v.holder),
    notice: String(v.notice),
  });
  return (
    <RecordPage<MandateRow>
      title="Mandates"
      note="by which customers are debited"
      name="mandates"
      rows={rows}
      rowKey={(r) => String(r.id)}
      mayChange={mayChange}
      add="Enter a mandate"
      begins={mayChange && partner !== "" && !rows.some((r) => r.partner === partner && !r.ended)}
      empty={
        <Empty title="No mandate yet">
          A mandate is what a customer has signed: enter it, and what the customer owes can be
          debited when it is due.
        </Empty>
      }
      actions={
        <>
          {mayChange && (
            <FileLoad
              label="Load"
              what="mandates"
              load={sendTable("mandates", { company: work.place.company })}
            />
          )}
          <ExportMenu path="/export/mandates" formats={["csv", "xlsx"]} label="Export all fields" />
        </>
      }
      columns={[
        { key: "partner", header: "Customer", value: (r) => `${r.partner} ${r.partnerName}` },
        { key: "reference", header: "Reference", width: 120, value: (r) => r.reference },
        {
          key: "signed",
          header: "Signed",
          width: 104,
          value: (r) => r.signed,
          cell: (r) => shownDate(r.signed),
        },
        { key: "iban", header: "Account", width: 210, value: (r) => ibanText(r.iban) },
        { key: "uses", header: "Used", width: 60, align: "right", value: (r) => r.uses },
        {
          key: "lastUsed",
          header: "Last",
          width: 104,
          value: (r) => r.lastUsed ?? "",
          cell: (r) => (r.lastUsed ? shownDate(r.lastUsed) : ""),
        },
        {
          key: "state",
          header: "State",
          width: 150,
          value: (r) =>
            r.ended
              ? `ended ${shownDate(r.ended)}`
              : r.against === ""
                ? "in force"
                : r.kind === "one-off"
                  ? "used up"
                  : "expired",
        },
      ]}
      fields={[
        { key: "partner", label: "Customer", kind: "text", required: true },
        {
          key: "reference",
          label: "Reference of the mandate",
          kind: "text",
          required: true,
          hint: "Stands on the mandate, and on the customer’s statement.",
        },
        { key: "signed", label: "Signed on", kind: "date", required: true },
        { key: "iban", label: "IBAN", kind: "text", required: true, wide: true },
        { key: "bic", label: "BIC", kind: "text" },
        {
          key: "holder",
          label: "Held by",
          kind: "text",
          hint: "Where it is somebody else than the customer.",
        },
        {
          key: "scheme",
          label: "Scheme",
          kind: "select",
          options: DEBIT_SCHEMES.map((s) => ({ value: s, text: DEBIT_SCHEME_NAMES[s] })),
          wide: true,
        },
        {
          key: "kind",
          label: "Good for",
          kind: "select",
          options: MANDATE_KINDS.map((k) => ({
            value: k,
            text: k === "recurrent" ? "any number of direct debits" : "one direct debit",
          })),
        },
        { key: "notice", label: "Told days before", kind: "text", required: true },
      ]}
      toValues={(r) => ({
        partner: r?.partner ?? partner,
        reference: r?.reference ?? "",
        signed: r ? dateText(r.signed) : "",
        iban: r ? ibanText(r.iban) : "",
        bic: r?.bic ?? "",
        holder: r?.holder ?? "",
        scheme: r?.scheme ?? "core",
        kind: r?.kind ?? "recurrent",
        notice: String(r?.notice ?? USUAL_NOTICE),
      })}
      check={(v, row) => faultsOf(mandateSchema, mandateOf(v, row))}
      save={(v, row) => saveMandateAction(mandateOf(v, row))}
      aside={(r) => <Ending key={r.id} mandate={r} mayChange={mayChange} />}
    />
  );
}

/** That a mandate has ended, or how it is ended: the customer revokes it, or another takes its place. */
function Ending({ mandate: m, mayChange }: { mandate: MandateRow; mayChange: boolean }) {
  const { today } = useWork();
  const [on, setOn] = useState(dateText(today));
  const [why, setWhy] = useState("");
  const { busy, messages, act } = useAct();
  if (m.ended)
    return (
      <p className="text-ink-2">
        Ended on {shownDate(m.ended)}: {m.endedWhy}
      </p>
    );
  return (
    <>
      {m.uses > 0 && (
        <p className="text-ink-2">
          It was used: what was signed stays. For another account end it, and enter the new one.
        </p>
      )}
      {mayChange && (
        <form
          className="grid gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            void act(
              () => endMandateAction({ id: m.id, on: readDate(on, today) ?? on, why }),
              "Ended: nothing is debited by it from then on.",
            );
          }}
        >
          <Problems messages={messages} />
          <div>
            <label className="label" htmlFor="end-on">
              Ends on
            </label>
            <DateField id="end-on" value={on} onChange={setOn} />
          </div>
          <div>
            <label className="label" htmlFor="end-why">
              Because
            </label>
            <input
              id="end-why"
              className="field"
              value={why}
              placeholder="Revoked by the customer"
              onChange={(e) => setWhy(e.target.value)}
            />
          </div>
          <button type="submit" className="button justify-self-start" disabled={busy}>
            End the mandate
          </button>
        </form>
      )}
    </>
  );
}
