"use client";
import Link from "next/link";
import { useMemo, useState, type ReactNode } from "react";
import { Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/react";
import { amountText, dateText } from "@/core/shared";
import type { RunItem, RunOverrides } from "@/core/runs";
import type { RunView } from "@/server/runs";
import { ReasonForm } from "@/app/lib/ReasonForm";
import { useAct } from "@/app/lib/useAct";
import { documentKindName, documentPage } from "@/core/documents";
import { useWork } from "@/ui/frame/work";
import { Fact, Page, Problems } from "@/ui/Page";
import { SidePanel } from "@/ui/SidePanel";
import { Status } from "@/ui/Status";
import { usePrimaryKeys } from "@/ui/usePrimaryKeys";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { changeRunAction, discardRunAction, postRunAction, reverseRunAction } from "../../actions";

/**
 * A run of any kind: what it would do item by item, the exact journals, posting, and the way back.
 */
export function RunPage({
  run,
  part,
}: {
  run: RunView;
  part?: { name: string; content: ReactNode };
}) {
  const work = useWork();
  const [chosen, setChosen] = useState<string | null>(null);
  const item = run.proposal.items.find((i) => i.key === chosen);
  const { busy, messages, act } = useAct();
  const [reversing, setReversing] = useState(false);
  const { overrides } = run;
  const columns = useMemo(
    (): TableColumn<RunItem>[] => [
      { key: "group", header: "Group", width: 160, value: (i) => i.group },
      { key: "label", header: "Item", width: 190, value: (i) => i.label },
      {
        key: "amount",
        header: "Amount",
        width: 116,
        align: "right",
        sum: true,
        value: (i) => (stateOf(i, overrides) === "yes" ? i.amount : 0n),
        cell: (i) => (
          <span className={stateOf(i, overrides) === "yes" ? "" : "text-ink-3 line-through"}>
            {amountText(i.amount, run.currency)}
          </span>
        ),
      },
      { key: "why", header: "Why", width: 190, value: (i) => i.why },
      {
        key: "state",
        header: "In the run",
        value: (i) => stateOf(i, overrides),
        cell: (i) => (
          <span className={stateOf(i, overrides) === "yes" ? "" : "text-ink-2"} title={i.leftOut}>
            {stateOf(i, overrides)}
          </span>
        ),
      },
    ],
    [overrides, run.currency],
  );
  const { proposal } = run;
  const groups = useMemo(
    () => byGroup(run.proposal.items, overrides),
    [run.proposal.items, overrides],
  );
  const waiting = proposal.items
    .flatMap((i) => i.asks ?? [])
    .filter((a) => a.given === "" && !a.optional).length;
  const currencyOf = (company: string): string =>
    work.companies.find((c) => c.code === company)?.currency ?? run.currency;
  const journalCount = proposal.drafts.length;
  const journals = `${journalCount} ${journalCount === 1 ? "journal" : "journals"}`;
  const postable =
    run.mayPost &&
    run.status === "preview" &&
    !busy &&
    (journalCount > 0 || proposal.makes !== undefined);
  const post = () => {
    if (postable)
      void act(
        () => postRunAction(String(run.id)),
        proposal.makes ? "Done." : `Posted ${journals}.`,
      );
  };
  usePrimaryKeys(undefined, post);
  const tab =
    "h-9 font-semibold text-ink-2 data-selected:text-ink data-selected:shadow-[inset_0_-3px_var(--color-yellow)] outline-offset-[-2px]";
  return (
    <Page
      title={run.title}
      status={<Status of={run.status} />}
      note={run.number}
      actions={
        run.mayPost && (
          <>
            {run.status === "preview" && (
              <button
                type="button"
                className="button"
                disabled={busy}
                onClick={() =>
                  void act(() => discardRunAction(String(run.id)), "Preview discarded.")
                }
              >
                Discard
              </button>
            )}
            {run.status === "preview" && (
              <button
                type="button"
                className="button button-main"
                disabled={!postable}
                onClick={post}
                data-keys="Ctrl Shift Enter=Post"
              >
                {busy ? "Posting" : (proposal.makes ?? `Post ${journals}`)} <kbd>Ctrl ⇧ ⏎</kbd>
              </button>
            )}
            {run.status === "posted" && !reversing && (
              <button type="button" className="button" onClick={() => setReversing(true)}>
                Reverse the run
              </button>
            )}
          </>
        )
      }
      panel={
        item && (
          <Why
            key={item.key}
            item={item}
            run={run}
            busy={busy}
            onChange={(overrides) =>
              void act(
                () => changeRunAction(String(run.id), overrides),
                "The preview is computed again.",
              )
            }
            onClose={() => setChosen(null)}
          />
        )
      }
      footer={
        <>
          {proposal.figures.map((f) => (
            <Fact key={f.label} label={f.label}>
              {amountText(f.amount, f.currency ?? run.currency)} {f.currency ?? run.currency}
            </Fact>
          ))}
          <Fact label="Items">{proposal.items.length}</Fact>
          <Fact label="Journals">{run.journals.length || journalCount}</Fact>
          <span className="ml-auto text-right text-ink-3">
            proposed by {run.proposedBy}, {dateText(run.proposedAt.slice(0, 10))}
            {run.postedBy &&
              ` · posted by ${run.postedBy}, ${dateText(run.postedAt!.slice(0, 10))}`}
            {run.reversedBy && ` · reversed by ${run.reversedBy}: ${run.reversalReason}`}
          </span>
        </>
      }
    >
      <Problems messages={messages} />
      {reversing && (
        <ReasonForm
          placeholder="Why is it reversed?"
          button="Reverse all its journals"
          job={(reason) => reverseRunAction(String(run.id), reason)}
          done="The run is reversed."
          close={() => setReversing(false)}
        />
      )}
      {run.status === "preview" && run.approval && (
        <p className="notice">Somebody else has to post it: {run.approval}.</p>
      )}
      {run.status === "preview" && waiting > 0 && (
        <p className="notice">
          {waiting === 1 ? "One amount is" : `${waiting} amounts are`} asked for: open the item and
          type it. What is not given stays due.
        </p>
      )}
      {proposal.blocks?.map((b) => (
        <p key={b} role="alert" className="notice notice-bad">
          {b}
        </p>
      ))}
      {run.status === "preview" &&
        proposal.warnings.map((w) => (
          <p key={w} className="notice">
            {w}
          </p>
        ))}
      <div className="panel flex shrink-0 items-stretch overflow-x-auto">
        {Object.entries(run.params)
          .map(([key, value]) => ({ key, text: paramText(value) }))
          .filter((p) => p.text !== "")
          .map(({ key, text }) => (
            <div key={key} className="border-r border-line-2 px-3.5 py-2 last:border-0">
              <div className="text-xs text-ink-2">{words(key)}</div>
              <div className="font-[650]">{text}</div>
            </div>
          ))}
      </div>
      <TabGroup className="flex min-h-0 flex-1 flex-col gap-2">
        <TabList className="flex gap-5 border-b border-line px-1">
          <Tab className={tab}>Items {proposal.items.length}</Tab>
          {groups.length > 1 && <Tab className={tab}>By group {groups.length}</Tab>}
          {part && <Tab className={tab}>{part.name}</Tab>}
          {run.made.length > 0 && <Tab className={tab}>Made {run.made.length}</Tab>}
          <Tab className={tab}>Journals {run.journals.length || journalCount}</Tab>
        </TabList>
        <TabPanels className="flex min-h-0 flex-1 flex-col">
          <TabPanel className="flex min-h-0 flex-1 flex-col">
            <DataTable
              name="run-items"
              rows={proposal.items}
              columns={columns}
              rowKey={(i) => i.key}
              currency={run.currency}
              onOpen={(i) => setChosen(i.key)}
              empty={<p className="p-8 text-center text-ink-2">Nothing to do.</p>}
            />
          </TabPanel>
          {groups.length > 1 && (
            <TabPanel className="flex min-h-0 flex-1 flex-col">
              <DataTable
                name="run-groups"
                rows={groups}
                columns={groupColumns}
                rowKey={(g) => g.group}
                currency={run.currency}
                empty={null}
              />
            </TabPanel>
          )}
          {part && (
            <TabPanel className="flex min-h-0 flex-1 flex-col gap-2.5 overflow-auto">
              {part.content}
            </TabPanel>
          )}
          {run.made.length > 0 && (
            <TabPanel className="panel min-h-0 flex-1 overflow-auto">
              <table className="sheet">
                <thead>
                  <tr>
                    <th className="w-40">Document</th>
                    <th>Name</th>
                    <th className="w-36">State</th>
                  </tr>
                </thead>
                <tbody>
                  {run.made.map((d) => (
                    <tr key={d.id}>
                      <td>
                        <Link
                          className="link font-semibold"
                          href={work.link(documentPage(d.kind, d.id))}
                        >
                          {d.number || documentKindName(d.kind)}
                        </Link>
                      </td>
                      <td>{d.title}</td>
                      <td>
                        <Status of={d.status} quiet />
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </TabPanel>
          )}
          <TabPanel className="panel min-h-0 flex-1 overflow-auto">
            {run.journals.length > 0 ? (
              <table className="sheet">
                <thead>
                  <tr>
                    <th className="w-36">Number</th>
                    <th>Description</th>
                    <th className="num w-40">Total</th>
                  </tr>
                </thead>
                <tbody>
                  {run.journals.map((j) => (
                    <tr key={j.id}>
                      <td>
                        <Link
                          className="link font-semibold"
                          href={work.link(`/ledger/journals/${j.id}`)}
                        >
                          {j.number}
                        </Link>
                      </td>
                      <td>{j.description}</td>
                      <td className="num">{amountText(j.total, run.currency)}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            ) : (
              proposal.drafts.map((d, i) => (
                <table key={i} className="sheet">
                  <thead>
                    <tr>
                      <th>
                        {d.company !== run.company && `${d.company} · `}
                        {dateText(d.date)} · {d.description}
                      </th>
                      <th>Coding</th>
                      <th className="num w-36">Debit</th>
                      <th className="num w-36">Credit</th>
                    </tr>
                  </thead>
                  <tbody>
                    {d.lines.map((l, k) => (
                      <tr key={k}>
                        <td>{l.account}</td>
                        <td>{Object.values(l.dimensions).join(" · ")}</td>
                        <td className="num">
                          {l.side === "debit" ? amountText(l.amount, currencyOf(d.company)) : ""}
                        </td>
                        <td className="num">
                          {l.side === "credit" ? amountText(l.amount, currencyOf(d.company)) : ""}
                        </td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              ))
            )}
          </TabPanel>
        </TabPanels>
      </TabGroup>
    </Page>
  );
}

/** What a run was asked for, as text; empty where it was not asked for. */
function paramText(value: unknown): string {
  if (value === null || value === undefined || value === false) return "";
  if (value === true) return "yes";
  if (!Array.isArray(value)) return dateText(String(value));
  if (value.length > 0 && typeof value[0] === "object") return `${value.length} given`;
  return value.length > 3 ? `${value.length} chosen` : value.join(", ");
}

/** Whether an item is part of the run. */
const stateOf = (i: RunItem, { dropped }: RunOverrides): string =>
  dropped.includes(i.key)
    ? "left out by hand"
    : i.leftOut !== undefined
      ? i.asks?.some((a) => a.given === "" && !a.optional)
        ? "waits for an amount"
        : `no: ${i.leftOut}`
      : "yes";

interface GroupSum {
  group: string;
  items: number;
  amount: bigint;
  out: number;
  amountOut: bigint;
}

/**
 * What the items of a group come to, apart for those in the run and those left out; in the order in
 * which they come.
 */
function byGroup(items: readonly RunItem[], overrides: RunOverrides): GroupSum[] {
  const sums = new Map<string, GroupSum>();
  for (const i of items) {
    const g = sums.get(i.group) ?? { group: i.group, items: 0, amount: 0n, out: 0, amountOut: 0n };
    const isIn = stateOf(i, overrides) === "yes";
    sums.set(
      i.group,
      isIn
        ? { ...g, items: g.items + 1, amount: g.amount + i.amount }
        : { ...g, out: g.out + 1, amountOut: g.amountOut + i.amount },
    );
  }
  return [...sums.values()];
}

const groupColumns: TableColumn<GroupSum>[] = [
  { key: "group", header: "Group", value: (g) => g.group },
  { key: "items", header: "Items in the run", width: 140, align: "right", value: (g) => g.items },
  {
    key: "amount",
    header: "Amount",
    width: 170,
    align: "right",
    sum: true,
    value: (g) => g.amount,
  },
  { key: "out", header: "Items left out", width: 140, align: "right", value: (g) => g.out },
  {
    key: "amountOut",
    header: "Amount left out",
    width: 170,
    align: "right",
    sum: true,
    value: (g) => g.amountOut,
  },
];

const words = (key: string): string =>
  key
    .replace(/([A-Z])/g, " $1")
    .toLowerCase()
    .replace(/^./, (c) => c.toUpperCase());

/** How a figure came about, and what can be changed about it while it is a preview. */
function Why({
  item,
  run,
  busy,
  onChange,
  onClose,
}: {
  item: RunItem;
  run: RunView;
  busy: boolean;
  onChange: (overrides: RunOverrides) => void;
  onClose: () => void;
}) {
  const { dropped, amounts } = run.overrides;
  const out = dropped.includes(item.key);
  const changeable = run.status === "preview" && run.mayPost;
  return (
    <SidePanel title={item.explanation.title} onClose={onClose}>
      <p className="text-ink-2">{item.why}</p>
      {item.leftOut && <p className="notice">Not part of the run: {item.leftOut}</p>}
      <div className="rounded-lg border border-line-2 px-3 py-2">
        {item.explanation.steps.map((s, i) => (
          <div
            key={i}
            className={`flex justify-between gap-3 py-0.5 ${s.total ? "mt-1 border-t border-line pt-1.5 font-bold" : ""}`}
          >
            <span>{s.label}</span>
            <span>
              {s.text ?? (s.amount === undefined ? "" : amountText(s.amount, run.currency))}
            </span>
          </div>
        ))}
      </div>
      {changeable &&
        item.asks?.map((a) => (
          <Ask
            key={a.key}
            ask={a}
            busy={busy}
            onGive={(text) => onChange({ dropped, amounts: { ...amounts, [a.key]: text } })}
          />
        ))}
      {changeable && item.droppable && (
        <button
          type="button"
          className="button self-start"
          disabled={busy}
          onClick={() =>
            onChange({
              amounts,
              dropped: out ? dropped.filter((k) => k !== item.key) : [...dropped, item.key],
            })
          }
        >
          {out ? "Take it in again" : "Leave it out of this run"}
        </button>
      )}
    </SidePanel>
  );
}

function Ask({
  ask,
  busy,
  onGive,
}: {
  ask: NonNullable<RunItem["asks"]>[number];
  busy: boolean;
  onGive: (text: string) => void;
}) {
  const [text, setText] = useState(ask.given);
  return (
    <form
      className="flex items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        onGive(text);
      }}
    >
      <div className="flex-1">
        <label className="label" htmlFor={`ask-${ask.key}`}>
          {ask.label}, {ask.currency}
        </label>
        <input
          id={`ask-${ask.key}`}
          className="field text-right"
          autoFocus={ask.given === "" && !ask.optional}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
      </div>
      <button type="submit" className="button" disabled={busy}>
        Take over
      </button>
    </form>
  );
}
