"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useCallback, useMemo, useState } from "react";
import type { Desk, DeskCustomer } from "@/server/receivables";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useWork } from "@/ui/frame/work";
import { Empty, Fact, Page } from "@/ui/Page";
import { shownAmount, shownDate } from "@/ui/writing";
import { Conversation } from "./Conversation";
import { CustomerSheet, type DeskAct } from "./CustomerSheet";
import { DeskList } from "./DeskList";
import { useDeskKeys } from "./useDeskKeys";

interface Props {
  desk: Desk;
  customer: DeskCustomer | null;
  /** Whose customers; "" for all. */
  collector: string;
  people: readonly { code: string; name: string }[];
  text: string;
}

/** What is done with the customer in hand. */
interface Hand {
  of: string;
  act: DeskAct;
  chosen: readonly number[];
}

/** A collector's customers by score; the one in hand with all that is known of it. */
export function DeskPage({ desk, customer, collector, people, text }: Props) {
  const work = useWork();
  const router = useRouter();
  const code = customer?.row.code ?? "";
  const [folded, setFolded] = useState(false);
  // Another customer begins anew.
  const [hand, setHand] = useState<Hand>({ of: code, act: null, chosen: [] });
  const { act, chosen }: Hand = hand.of === code ? hand : { of: code, act: null, chosen: [] };
  const setAct = useCallback(
    (next: DeskAct) =>
      setHand((h) => ({ of: code, act: next, chosen: h.of === code ? h.chosen : [] })),
    [code],
  );
  const setChosen = useCallback(
    (ids: readonly number[]) =>
      setHand((h) => ({ of: code, act: h.of === code ? h.act : null, chosen: ids })),
    [code],
  );
  const [wanted, setWanted] = useState(text);
  const choose = useCallback(
    (next: string) => work.go({ partner: next }, { replace: true }),
    [work],
  );
  const step = useCallback(
    (by: 1 | -1) => {
      const at = desk.rows.findIndex((r) => r.code === code);
      const next = desk.rows[at + by] ?? (by === 1 ? desk.rows[0] : desk.rows.at(-1));
      if (next) choose(next.code);
    },
    [desk.rows, code, choose],
  );
  const mayWrite = work.may("prepare.receivables");
  const lettersTo = work.link("/receivables/letters", { customers: code });
  useDeskKeys(
    useMemo(
      () => ({
        n: () => step(1),
        N: () => step(-1),
        p: () => mayWrite && setAct("promise"),
        d: () => mayWrite && setAct("dispute"),
        l: () => mayWrite && code !== "" && router.push(lettersTo),
        c: () => {
          const field = () => document.getElementById("say-text");
          if (field()) return field()!.focus();
          setFolded(false);
          // Once it is drawn.
          setTimeout(() => field()?.focus());
        },
        "\\": () => setFolded((f) => !f),
      }),
      [step, mayWrite, setAct, code, router, lettersTo],
    ),
  );
  const { totals, currency } = desk;
  const sum = customer?.items
    .filter((i) => chosen.includes(i.id))
    .reduce((t, i) => t + i.leftFunctional, 0n);
  return (
    <Page
      strip={<PeriodStrip />}
      title="Collections desk"
      note={`${desk.of === 1 ? "1 customer" : `${desk.of} customers`} · ${shownDate(desk.on)}`}
      actions={
        <>
          <form
            onSubmit={(e) => {
              e.preventDefault();
              work.go({ text: wanted || null, partner: null });
            }}
          >
            <input
              className="field w-40"
              aria-label="Search in customers"
              placeholder="Customer"
              value={wanted}
              onChange={(e) => setWanted(e.target.value)}
            />
          </form>
          <select
            aria-label="Whose customers"
            className="field w-auto"
            value={collector || "all"}
            onChange={(e) => work.go({ collector: e.target.value, partner: null })}
          >
            <option value="all">Everybody’s customers</option>
            {people.map((p) => (
              <option key={p.code} value={p.code}>
                {p.code === work.person.login ? "My customers" : p.name}
              </option>
            ))}
          </select>
          {mayWrite && (
            <Link
              className="button"
              href={work.link("/receivables/letters", { collector: collector || null })}
            >
              Letters to all
            </Link>
          )}
          <button
            type="button"
            className="button button-main"
            disabled={desk.rows.length < 2}
            data-keys="n=Next customer"
            onClick={() => step(1)}
          >
            Next customer <kbd>n</kbd>
          </button>
        </>
      }
      footer={
        <>
          <Fact label="Overdue" tone={totals.overdue > 0n ? "bad" : "good"}>
            {shownAmount(totals.overdue, currency)}
          </Fact>
          <Fact label="Promised">{shownAmount(totals.promised, currency)}</Fact>
          <Fact label="Disputed">{shownAmount(totals.disputed, currency)}</Fact>
          <Fact apart label={`To collect ${currency}`}>
            {shownAmount(totals.toCollect, currency)}
          </Fact>
          {chosen.length > 0 && (
            <span className="ml-auto flex items-center gap-3 text-ink-2">
              {chosen.length} chosen: {shownAmount(sum ?? 0n, currency)}
              {work.may("post.receivables") && (
                <button
                  type="button"
                  className="button"
                  aria-expanded={act === "write off"}
                  onClick={() => setAct("write off")}
                >
                  Write off
                </button>
              )}
            </span>
          )}
        </>
      }
      panel={
        customer &&
        !folded && (
          <Conversation
            key={code}
            company={work.place.company}
            partner={customer.row}
            said={customer.conversation}
            onFold={() => setFolded(true)}
          />
        )
      }
    >
      {desk.rows.length === 0 ? (
        <Empty title="Nothing to collect">
          {text
            ? "No customer of that name has anything open."
            : "Customers come here while anything of theirs is open."}
        </Empty>
      ) : (
        <div className="flex min-h-0 flex-1 gap-2.5">
          <DeskList
            rows={desk.rows}
            of={desk.of}
            chosen={code}
            currency={currency}
            onChoose={choose}
          />
          {customer ? (
            <CustomerSheet
              key={code}
              customer={customer}
              currency={currency}
              today={desk.on}
              act={act}
              onAct={setAct}
              chosen={chosen}
              onChosen={setChosen}
              folded={folded}
              onUnfold={() => setFolded(false)}
            />
          ) : (
            <Empty title="Nothing is open with this customer">
              Choose another one of the list.
            </Empty>
          )}
        </div>
      )}
    </Page>
  );
}
