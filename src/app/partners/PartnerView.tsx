"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useCallback, useMemo, useState, type ReactNode } from "react";
import { age, DEFAULT_BUCKETS } from "@/core/openItems";
import { decimalText, minor } from "@/core/shared";
import type {
  ItemArea,
  ItemHistory,
  OpenItemRow,
  PartnerGlance as Glance,
} from "@/server/openItems";
import type { PartnerView as Partner } from "@/server/partners";
import type { CustomerState } from "@/server/receivables";
import { netPartnerAction } from "../(work)/payables/payments/actions";
import { Conversation } from "../(work)/receivables/desk/Conversation";
import { useAct } from "@/app/lib/useAct";
import { NotSaved, useLeaveGuard } from "@/ui/form";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useWork } from "@/ui/frame/work";
import { Empty, Fact, Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import {
  allocateItemsAction,
  holdItemAction,
  itemHistoryAction,
  undoAllocationAction,
} from "./actions";
import { pairOff } from "./pairOff";
import { RestateForm } from "./RestateForm";
import { ItemPanel } from "./ItemPanel";
import { CustomerFacts } from "./CustomerFacts";
import { PartnerBanks } from "./PartnerBanks";
import { PartnerContacts, type WrittenContact } from "./PartnerContacts";
import { PartnerGlance } from "./PartnerGlance";
import { shownAmount, shownDate } from "@/ui/writing";

interface Props {
  area: ItemArea;
  partner: Partner;
  items: OpenItemRow[];
  glance: Glance;
  /** Of a customer: how it stands at the desk, and all that was said. */
  state: CustomerState | null;
  on: string;
  all: boolean;
  terms: string;
  note: string;
  maySettle: boolean;
  mayChange: boolean;
  panel: ReactNode;
}

/** What stands open with one partner; items are chosen and set against each other here. */
export function PartnerView({
  area,
  partner,
  items,
  glance,
  state,
  on,
  all,
  terms,
  note,
  maySettle,
  mayChange,
  panel,
}: Props) {
  const work = useWork();
  const [side, setSide] = useState<"banks" | "item" | "contacts" | "said" | null>(null);
  const [item, setItem] = useState<OpenItemRow | null>(null);
  const [history, setHistory] = useState<ItemHistory[] | null>(null);
  const [chosen, setChosen] = useState<string[]>([]);
  const [contacts, setContacts] = useState<readonly WrittenContact[] | null>(null);
  const guard = useLeaveGuard(contacts !== null);
  const { busy, messages, act } = useAct(
    partner.alike.map((l) => `${l.code} ${l.name} has ${l.why}.`),
  );
  const sign = area === "payables" ? -1n : 1n;
  const select = useCallback((keys: string[]) => setChosen(keys), []);
  const open = async (i: OpenItemRow) => {
    setItem(i);
    setSide("item");
    setHistory(null);
    const result = await itemHistoryAction(i.id).catch(() => null);
    if (result?.ok) setHistory(result.value);
  };
  const foreign = items.some((i) => i.currency !== work.company?.currency);
  const columns = useMemo(
    (): TableColumn<OpenItemRow>[] => [
      {
        key: "dueDate",
        header: "Due date",
        width: 104,
        value: (i) => i.dueDate,
        cell: (i) => (
          <span className={i.left !== 0n && i.dueDate < on ? "text-coral" : ""}>
            {shownDate(i.dueDate)}
          </span>
        ),
      },
      {
        key: "reference",
        header: "Reference",
        width: 130,
        value: (i) => i.reference,
        cell: (i) => <b className="font-semibold">{i.reference}</b>,
      },
      { key: "kind", header: "Kind", width: 100, value: (i) => i.kind },
      {
        key: "date",
        header: "Invoice date",
        width: 106,
        value: (i) => i.date,
        cell: (i) => shownDate(i.date),
      },
      { key: "number", header: "Journal", value: (i) => i.number },
      ...(items.some((i) => i.hold)
        ? [{ key: "hold", header: "On hold", width: 150, value: (i: OpenItemRow) => i.hold }]
        : []),
      ...(foreign
        ? [
            {
              key: "currency",
              header: "Currency",
              width: 78,
              value: (i: OpenItemRow) => i.currency,
            },
          ]
        : []),
      {
        key: "amount",
        header: "Amount",
        width: 124,
        align: "right",
        sum: true,
        value: (i) => minor(sign * i.amount),
      },
      {
        key: "left",
        header: "Open amount",
        width: 124,
        align: "right",
        sum: true,
        value: (i) => minor(sign * i.left),
      },
      ...(foreign
        ? [
            {
              key: "functional",
              header: `Open ${work.company?.currency ?? ""}`,
              width: 130,
              align: "right" as const,
              sum: true,
              functional: true,
              value: (i: OpenItemRow) => minor(sign * i.leftFunctional),
            },
          ]
        : []),
    ],
    [on, work.company?.currency, items, foreign, sign],
  );
  const ages = age(
    items.map((i) => ({ due: i.dueDate, left: minor(sign * i.leftFunctional) })),
    on,
  );
  const pairs = pairOff(items.filter((i) => chosen.includes(String(i.id))));
  const currency = work.company?.currency ?? "EUR";
  const settle = () => {
    const taking = items.filter((i) => chosen.includes(String(i.id)));
    const date = [work.today, ...taking.map((i) => i.date)].sort().at(-1)!;
    void act(
      () =>
        allocateItemsAction({
          date,
          pairs: pairs.map((p) => ({
            first: p.first.id,
            second: p.second.id,
            amount: decimalText(p.amount, p.first.currency),
          })),
        }),
      `${pairs.length === 1 ? "One pair" : `${pairs.length} pairs`} settled.`,
    );
  };
  return (
    <Page
      strip={<PeriodStrip />}
      title={partner.name}
      status={
        partner.blocked ? <Status of="blocked" /> : partner.hold ? <Status of="hold" /> : undefined
      }
      note={note}
      panel={
        panel ||
        (side === "said" && state ? (
          <Conversation
            company={work.place.company}
            partner={partner}
            said={state.conversation}
            onFold={() => setSide(null)}
          />
        ) : side === "contacts" && state ? (
          <PartnerContacts
            partner={partner}
            contacts={state.contacts}
            draft={contacts}
            onWrite={setContacts}
            mayChange={work.may("prepare.receivables")}
            busy={busy}
            act={act}
            onClose={() => setSide(null)}
          />
        ) : side === "banks" ? (
          <PartnerBanks
            partner={partner}
            mayChange={mayChange}
            busy={busy}
            act={act}
            onClose={() => setSide(null)}
          />
        ) : (
          side === "item" &&
          item && (
            <ItemPanel
              key={`${item.id} ${item.hold}`}
              item={items.find((i) => i.id === item.id) ?? item}
              sign={sign}
              history={history}
              busy={busy}
              mayHold={mayChange}
              restate={maySettle && <Restate item={item} then={() => void open(item)} />}
              onHold={(reason) =>
                void act(
                  () => holdItemAction(item.id, reason),
                  reason ? "Held: it is not paid while the reason stands." : "Released.",
                )
              }
              onUndo={(id) =>
                void act(
                  () => undoAllocationAction(id),
                  "Taken back: its items are open again.",
                  () => void open(item),
                )
              }
              onJournal={(id) => work.go({ beside: String(id) })}
              onClose={() => setSide(null)}
            />
          )
        ))
      }
      actions={
        <>
          <button
            type="button"
            className="button"
            aria-pressed={all}
            onClick={() => work.go({ all: all ? null : "1" })}
          >
            {all ? "Open items" : "All transactions"}
          </button>
          {partner.supplier &&
            partner.customer &&
            work.may("post.payables") &&
            work.may("post.receivables") &&
            items.length > 0 && (
              <button
                type="button"
                className="button"
                disabled={busy}
                title="Sets what we owe against what is owed to us, the oldest first"
                onClick={() =>
                  void act(
                    () =>
                      netPartnerAction({
                        company: work.place.company,
                        partner: partner.code,
                        currency: items[0]!.currency,
                        date: work.today,
                      }),
                    "Netted.",
                  )
                }
              >
                Net both ways
              </button>
            )}
          {area === "payables" && (
            <Link className="button" href={work.link("/payables/orders", { text: partner.name })}>
              Orders
            </Link>
          )}
          {area === "receivables" && (
            <Link
              className="button"
              href={work.link("/receivables/desk", { partner: partner.code })}
            >
              Desk
            </Link>
          )}
          {area === "receivables" && work.may("prepare.receivables") && (
            <Link
              className="button"
              href={work.link("/receivables/invoices/new", { customer: partner.code })}
            >
              New invoice
            </Link>
          )}
          {area === "payables" && work.may("post.payables") && (
            <Link
              className="button"
              href={work.link("/payables/payments/new", { supplier: partner.code })}
            >
              Pay
            </Link>
          )}
          {state && (
            <>
              <button
                type="button"
                className="button"
                aria-expanded={side === "said"}
                data-keys="\\=Conversation"
                onClick={() => setSide(side === "said" ? null : "said")}
              >
                Conversation
              </button>
              <button
                type="button"
                className="button"
                aria-expanded={side === "contacts"}
                onClick={() => setSide(side === "contacts" ? null : "contacts")}
              >
                Contacts{contacts !== null && " (not saved)"}
              </button>
            </>
          )}
          <button
            type="button"
            className="button"
            aria-expanded={side === "banks"}
            onClick={() => setSide(side === "banks" ? null : "banks")}
          >
            Bank accounts
          </button>
          {maySettle && pairs.length > 0 && (
            <button type="button" className="button button-main" disabled={busy} onClick={settle}>
              Settle {chosen.length} items
            </button>
          )}
        </>
      }
      footer={
        <>
          <NotSaved guard={guard} says="The contacts are not saved." />
          <Fact label={area === "payables" ? "Owed" : "Due to us"}>
            {shownAmount(
              ages.reduce((a, b) => a + b, 0n),
              currency,
            )}{" "}
            {currency}
          </Fact>
          <Fact label="Overdue" tone={ages.slice(1).some((n) => n !== 0n) ? "bad" : "good"}>
            {shownAmount(
              ages.slice(1).reduce((a, b) => a + b, 0n),
              currency,
            )}
          </Fact>
          <Fact label={`of it over ${DEFAULT_BUCKETS.at(-1)} days`}>
            {shownAmount(ages.at(-1)!, currency)}
          </Fact>
        </>
      }
    >
      <Problems messages={messages} />
      {state && <CustomerFacts partner={partner} state={state} />}
      <PartnerGlance area={area} partner={partner} terms={terms} glance={glance} state={state} />
      <DataTable
        name="open-items"
        rows={items}
        columns={columns}
        rowKey={(i) => String(i.id)}
        currency={currency}
        currencyOf={(i) => i.currency}
        selectable={maySettle}
        onSelect={select}
        onOpen={(i) => void open(i)}
        empty={
          <Empty title="Nothing is open">
            {all
              ? "Nothing has been done with this partner in this company."
              : "Every item is settled. “All transactions” shows what was."}
          </Empty>
        }
      />
    </Page>
  );
}

/** Offers to owe an item in another currency; the form only once somebody wants it. */
function Restate({ item, then }: { item: OpenItemRow; then: () => void }) {
  const work = useWork();
  const router = useRouter();
  const [asked, setAsked] = useState(false);
  if (item.left === 0n || item.hold || !["invoice", "credit note"].includes(item.kind)) return null;
  if (!asked)
    return (
      <button type="button" className="button self-start" onClick={() => setAsked(true)}>
        Pay it in another currency
      </button>
    );
  const { company } = work;
  return (
    <RestateForm
      item={item}
      to={company && company.currency !== item.currency ? company.currency : ""}
      date={item.date > work.today ? item.date : work.today}
      then={() => {
        setAsked(false);
        then();
        router.refresh();
      }}
      close={() => setAsked(false)}
    />
  );
}
