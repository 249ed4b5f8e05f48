"use client";
import { useMemo, useState, type ReactNode } from "react";
import Link from "next/link";
import { Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/react";
import type { JournalDraft } from "@/core/ledger";
import type { RunOverrides } from "@/core/runs";
import { documentKindName, documentPage } from "@/core/documents";
import type { RunItemRow, RunView } from "@/server/runs";
import { ReasonForm } from "@/app/lib/ReasonForm";
import { useAct } from "@/app/lib/useAct";
import type { StartOfList } from "@/app/lib/useListPages";
import { useWork } from "@/ui/frame/work";
import { Fact, Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { usePrimaryKeys } from "@/ui/usePrimaryKeys";
import { changeRunAction, discardRunAction, postRunAction, reverseRunAction } from "./actions";
import { ItemPanel } from "./ItemPanel";
import { RunGroups } from "./RunGroups";
import { RunItems } from "./RunItems";
import { RunJournals } from "./RunJournals";
import { LeftOut } from "./LeftOut";
import { paramName } from "./paramName";
import { RunProgress } from "./RunProgress";
import { isWorkedOn, RunWorksheet } from "./RunWorksheet";
import { shownAmount, shownDate, shownSentence } from "@/ui/writing";

/**
 * A run of any kind: what it would do item by item, the exact journals, posting, and the way back.
 */
export function RunPage({
  run,
  items,
  sheet,
  drafts,
  part,
}: {
  run: RunView;
  /** All its items, where they are few enough to be worked on as one sheet. */
  sheet: readonly RunItemRow[] | null;
  /** The first page of its items. */
  items: StartOfList<RunItemRow>;
  /** The first of the journals that it would post. */
  drafts: readonly JournalDraft[];
  part?: { name: string; content: ReactNode };
}) {
  const key = String(run.id);
  const isPreview = run.status === "preview";
  const inSheet = useMemo(() => sheet?.filter(isWorkedOn) ?? [], [sheet]);
  const leftOut = useMemo(() => sheet?.filter((i) => !isWorkedOn(i)) ?? [], [sheet]);
  // In a preview the calculation of the item in hand stands beside.
  const [key0, setChosen] = useState<string | null>(isPreview ? (inSheet[0]?.key ?? null) : null);
  const [listed, setListed] = useState<RunItemRow | null>(null);
  const chosen = sheet ? (sheet.find((i) => i.key === key0) ?? null) : listed;
  const change = (overrides: RunOverrides) =>
    void act(() => changeRunAction(key, overrides), "The preview is computed again.");
  const { busy, messages, act } = useAct();
  const [reversing, setReversing] = useState(false);
  const { head } = run;
  const count = run.journals.length || run.drafts;
  // A run that makes something else has no journals to show.
  const posts = count > 0 || head.makes === undefined;
  const journals = `${run.drafts} ${run.drafts === 1 ? "journal" : "journals"}`;
  const postable =
    run.mayPost && isPreview && !busy && (run.drafts > 0 || head.makes !== undefined);
  const post = () => {
    if (!postable) return;
    void act(
      () => postRunAction(key),
      ({ status }) =>
        status === "posting" ? "Posting has begun." : head.makes ? "Done." : `Posted ${journals}.`,
    );
  };
  usePrimaryKeys(undefined, post);
  return (
    <Page
      title={shownSentence(run.title)}
      status={<Status of={run.status} />}
      note={run.number}
      actions={
        run.mayPost && (
          <>
            {isPreview && (
              <button
                type="button"
                className="button"
                disabled={busy}
                onClick={() => void act(() => discardRunAction(key), "Preview discarded.")}
              >
                Discard
              </button>
            )}
            {isPreview && (
              <button
                type="button"
                className="button button-main"
                disabled={!postable}
                onClick={post}
                data-keys="Ctrl Shift Enter=Post"
              >
                {busy ? "Posting" : (head.makes ?? `Post ${journals}`)} <kbd>Ctrl ⇧ ⏎</kbd>
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
        chosen !== null && (
          <ItemPanel
            key={chosen.id}
            run={run}
            row={chosen}
            busy={busy}
            onChange={change}
            onClose={() => {
              setChosen(null);
              setListed(null);
            }}
          />
        )
      }
      footer={
        <>
          {head.figures.map((f) => (
            <Fact key={f.label} label={f.label}>
              {shownAmount(f.amount, f.currency ?? run.currency)} {f.currency ?? run.currency}
            </Fact>
          ))}
          <Fact label="Items">{countOf(run).toLocaleString("en")}</Fact>
          {posts && <Fact label="Journals">{count.toLocaleString("en")}</Fact>}
          <span className="ml-auto text-right text-ink-3">
            proposed by {run.proposedBy}, {shownDate(run.proposedAt.slice(0, 10))}
            {run.postedBy &&
              ` · posted by ${run.postedBy}, ${shownDate(run.postedAt!.slice(0, 10))}`}
            {run.reversedBy && ` · reversed by ${run.reversedBy}: ${run.reversalReason}`}
          </span>
        </>
      }
    >
      <Problems messages={messages} />
      {run.job && <RunProgress job={run.job} />}
      {reversing && (
        <ReasonForm
          placeholder="Why is it reversed?"
          place="runs"
          button="Reverse all its journals"
          job={(reason) => reverseRunAction(key, reason)}
          done="The run is reversed."
          close={() => setReversing(false)}
        />
      )}
      {isPreview && <Notices run={run} />}
      <Params params={run.params} />
      <TabGroup className="flex min-h-0 flex-1 flex-col gap-2">
        <TabList className="flex gap-5 border-b border-line px-1">
          <Tab className={TAB}>
            Items {(sheet ? inSheet.length : countOf(run)).toLocaleString("en")}
          </Tab>
          {sheet
            ? leftOut.length > 0 && <Tab className={TAB}>Left out {leftOut.length}</Tab>
            : run.groups > 1 && (
                <Tab className={TAB}>By group {run.groups.toLocaleString("en")}</Tab>
              )}
          {part && <Tab className={TAB}>{part.name}</Tab>}
          {run.made.length > 0 && <Tab className={TAB}>Made {run.made.length}</Tab>}
          {posts && <Tab className={TAB}>Journals {count.toLocaleString("en")}</Tab>}
        </TabList>
        <TabPanels className="flex min-h-0 flex-1 flex-col">
          <TabPanel className="flex min-h-0 flex-1 flex-col">
            {sheet ? (
              <RunWorksheet
                run={run}
                items={inSheet}
                chosen={key0}
                busy={busy}
                onChoose={setChosen}
                onChange={change}
              />
            ) : (
              <RunItems run={run} list={items} onOpen={setListed} />
            )}
          </TabPanel>
          {sheet
            ? leftOut.length > 0 && (
                <TabPanel className="flex min-h-0 flex-1 flex-col">
                  <LeftOut run={run} items={leftOut} onOpen={(i) => setChosen(i.key)} />
                </TabPanel>
              )
            : run.groups > 1 && (
                <TabPanel className="flex min-h-0 flex-1 flex-col">
                  <RunGroups run={run} />
                </TabPanel>
              )}
          {part && (
            <TabPanel className="flex min-h-0 flex-1 flex-col gap-2.5 overflow-auto">
              {part.content}
            </TabPanel>
          )}
          {run.made.length > 0 && (
            <TabPanel className="panel min-h-0 flex-1 overflow-auto">
              <Made made={run.made} />
            </TabPanel>
          )}
          {posts && (
            <TabPanel className="panel min-h-0 flex-1 overflow-auto">
              <RunJournals key={run.status} run={run} first={drafts} />
            </TabPanel>
          )}
        </TabPanels>
      </TabGroup>
    </Page>
  );
}

const TAB =
  "h-9 font-semibold text-ink-2 data-selected:text-ink data-selected:shadow-[inset_0_-3px_var(--color-yellow)] outline-offset-[-2px]";

const countOf = ({ items }: RunView): number => Object.values(items).reduce((n, of) => n + of, 0);

/** What somebody should know before the run is posted. */
function Notices({ run }: { run: RunView }) {
  const waiting = run.items.waiting;
  return (
    <>
      {run.approval && <p className="notice">Somebody else has to post it: {run.approval}.</p>}
      {waiting > 0 && (
        <p className="notice">
          {waiting === 1 ? "One item waits" : `${waiting} items wait`} for an amount: open it and
          type it. What is not given stays due.
        </p>
      )}
      {run.head.blocks?.map((b) => (
        <p key={b} role="alert" className="notice notice-bad">
          {shownSentence(b)}
        </p>
      ))}
      {run.head.warnings.map((w) => (
        <p key={w} className="notice">
          {shownSentence(w)}
        </p>
      ))}
    </>
  );
}

/** What the run was asked for. */
function Params({ params }: { params: Record<string, unknown> }) {
  return (
    <div className="panel flex shrink-0 items-stretch overflow-x-auto">
      {Object.entries(params)
        .map(([key, value]) => ({ key, text: paramText(value) }))
        .filter((p) => p.text !== "")
        .map(({ key, text }) => (
          <div key={key} className="border-r border-line-2 px-3.5 py-2 last:border-0">
            <div className="text-xs text-ink-2">{paramName(key)}</div>
            <div className="font-[650]">{text}</div>
          </div>
        ))}
    </div>
  );
}

/** What a run was asked for, as text; empty where it was not asked for. */
function paramText(value: unknown): string {
  if (value === null || value === undefined || value === false) return "";
  if (value === true) return "yes";
  if (!Array.isArray(value))
    return typeof value === "object"
      ? Object.entries(value)
          .flatMap(([key, of]) => (of === "" ? [] : [`${key} ${String(of)}`]))
          .join(", ")
      : shownDate(String(value));
  if (value.length > 0 && typeof value[0] === "object") return `${value.length} given`;
  return value.length > 3 ? `${value.length} chosen` : value.join(", ");
}

/** Documents that the run has made beside its journals. */
function Made({ made }: { made: RunView["made"] }) {
  const work = useWork();
  return (
    <table className="sheet">
      <thead>
        <tr>
          <th className="w-40">Document</th>
          <th>Name</th>
          <th className="w-36">Status</th>
        </tr>
      </thead>
      <tbody>
        {made.map((d) => (
          <tr key={d.id}>
            <td>
              <Link className="link font-semibold" href={work.link(documentPage(d.kind, d.id))}>
                {d.number || documentKindName(d.kind)}
              </Link>
            </td>
            <td>{shownSentence(d.title)}</td>
            <td>
              <Status of={d.status} quiet />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
