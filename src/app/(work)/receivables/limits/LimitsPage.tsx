"use client";
import Link from "next/link";
import { useMemo, useState } from "react";
import { creditRequestSchema } from "@/core/partners";
import type { Minor } from "@/core/shared";
import type { CreditRequest } from "@/server/partners";
import { FieldForm } from "@/app/lib/FieldForm";
import { useAct } from "@/app/lib/useAct";
import { currencyOptions, faultsOf, type RecordField, type RecordValues } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { Empty, Page, Problems } from "@/ui/Page";
import { SidePanel } from "@/ui/panel/SidePanel";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownAmount, shownDate } from "@/ui/writing";
import { askForCreditLimitAction, decideCreditRequestAction } from "./actions";

const limitText = (amount: Minor | null, currency: string): string =>
  amount === null ? "none set" : `${shownAmount(amount, currency)} ${currency}`;

/** Credit limits that were asked for: those that wait for a second person, and what became of others. */
export function LimitsPage({
  rows,
  asked,
  mayAsk,
}: {
  rows: CreditRequest[];
  /** For whom the page was opened. */
  asked: { partner: string; currency: string };
  mayAsk: boolean;
}) {
  const work = useWork();
  const [chosen, setChosen] = useState<number | null>(null);
  const request = rows.find((r) => r.id === chosen) ?? null;
  const columns = useMemo(
    (): TableColumn<CreditRequest>[] => [
      {
        key: "customer",
        header: "Customer",
        width: 210,
        value: (r) => `${r.partner} ${r.name}`,
        cell: (r) => (
          <Link className="link" href={work.link(`/receivables/customers/${r.partner}`)}>
            {r.partner} {r.name}
          </Link>
        ),
      },
      {
        key: "now",
        header: "Limit now",
        width: 140,
        align: "right",
        value: (r) => limitText(r.now, r.nowCurrency),
      },
      {
        key: "amount",
        header: "Asked for",
        width: 140,
        align: "right",
        value: (r) => limitText(r.amount, r.currency),
      },
      { key: "reason", header: "Because", value: (r) => r.reason },
      {
        key: "by",
        header: "Asked by",
        width: 190,
        value: (r) => `${r.askedBy}, ${shownDate(r.askedAt.slice(0, 10))}`,
      },
      {
        key: "outcome",
        header: "Decided",
        width: 190,
        value: (r) => (r.outcome === null ? "waits" : `${r.outcome} by ${r.decidedBy}`),
      },
    ],
    [work],
  );
  return (
    <Page
      title="Credit limits"
      note="a higher one is asked for, and decided by a second person"
      panel={request && <Decision key={request.id} of={request} onClose={() => setChosen(null)} />}
    >
      <div className="flex min-h-0 flex-1 gap-2.5">
        {/* Beside a request there is no room for it; what was typed stays. */}
        {mayAsk && (
          <div className={request ? "hidden" : "contents"}>
            <Asking asked={asked} main={!request} />
          </div>
        )}
        <div className="flex min-w-0 flex-1 flex-col">
          <DataTable
            name="credit-requests"
            rows={rows}
            columns={columns}
            rowKey={(r) => String(r.id)}
            currency="EUR"
            onOpen={(r) => setChosen(r.id)}
            empty={
              <Empty title="No limit was asked for">
                What a customer may owe stands with the customer. Whoever invoices may lower it; a
                higher one is asked for here.
              </Empty>
            }
          />
        </div>
      </div>
    </Page>
  );
}

/** For which customer, how much, and why. */
function Asking({
  asked,
  main,
}: {
  asked: { partner: string; currency: string };
  /** Whether the keys of the page do it. */
  main: boolean;
}) {
  const { companies } = useWork();
  const fields: RecordField[] = [
    { key: "partner", label: "Customer", kind: "text", required: true, hint: "Its number." },
    { key: "limit", label: "Limit", kind: "figure", hint: "Empty: no limit at all." },
    {
      key: "currency",
      label: "Currency",
      kind: "select",
      options: currencyOptions(companies.map((c) => c.currency)),
    },
    { key: "reason", label: "Because", kind: "text", required: true },
  ];
  const inputOf = (v: RecordValues) => ({
    partner: String(v.partner),
    limit: String(v.limit),
    currency: String(v.currency),
    reason: String(v.reason),
  });
  return (
    <FieldForm
      name="credit-limit"
      title="Ask for a limit"
      className="w-[300px] shrink-0 self-start"
      fields={fields}
      start={{ partner: asked.partner, limit: "", currency: asked.currency, reason: "" }}
      check={(v) => faultsOf(creditRequestSchema, inputOf(v))}
      button="Ask for it"
      main={main}
      job={(v) => askForCreditLimitAction(inputOf(v))}
      done="Asked for. A second person decides it."
      empties
    />
  );
}

/** A request as a whole, and what a second person makes of it. */
function Decision({ of: r, onClose }: { of: CreditRequest; onClose: () => void }) {
  const [note, setNote] = useState("");
  const { busy, messages, act } = useAct();
  const decide = (outcome: "granted" | "refused") =>
    void act(
      () => decideCreditRequestAction({ id: r.id, outcome, note }),
      outcome === "granted" ? "Granted: it holds from now on." : "Refused.",
      onClose,
    );
  return (
    <SidePanel title={`Limit of ${r.name}`} onClose={onClose} width={340}>
      <dl className="grid gap-1">
        <Row name="Limit now" text={limitText(r.now, r.nowCurrency)} />
        <Row name="Asked for" text={limitText(r.amount, r.currency)} />
        <Row name="By" text={`${r.askedBy}, ${shownDate(r.askedAt.slice(0, 10))}`} />
      </dl>
      <p>{r.reason}</p>
      {r.outcome !== null && (
        <p className="text-ink-2">
          {r.outcome === "granted" ? "Granted" : "Refused"} by {r.decidedBy} on{" "}
          {shownDate(r.decidedAt!.slice(0, 10))}
          {r.note && `: ${r.note}`}
        </p>
      )}
      {r.outcome === null && !r.mayDecide && (
        <p className="text-ink-2">Somebody else, who sets the rules of the group, decides it.</p>
      )}
      {r.mayDecide && (
        <>
          <Problems messages={messages} />
          <div>
            <label className="label" htmlFor="limit-note">
              Note, or why it is refused
            </label>
            <input
              id="limit-note"
              className="field"
              value={note}
              onChange={(e) => setNote(e.target.value)}
            />
          </div>
          <p className="flex gap-2">
            <button
              type="button"
              className="button button-main"
              disabled={busy}
              onClick={() => decide("granted")}
            >
              Grant it
            </button>
            <button
              type="button"
              className="button"
              disabled={busy}
              onClick={() => decide("refused")}
            >
              Refuse
            </button>
          </p>
        </>
      )}
    </SidePanel>
  );
}

const Row = ({ name, text }: { name: string; text: string }) => (
  <div className="flex justify-between gap-3">
    <dt className="text-ink-2">{name}</dt>
    <dd className="font-semibold">{text}</dd>
  </div>
);
