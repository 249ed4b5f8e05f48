"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useEffect, useState } from "react";
import type { BankCodings, CandidateView, StatementLineView } from "@/server/banks";
import { ibanText } from "@/core/banks";
import { decimalText, minor } from "@/core/shared";
import { useWork } from "@/ui/frame/work";
import { Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { SidePanel } from "@/ui/panel/SidePanel";
import { useAct } from "@/app/lib/useAct";
import { shownAmount, shownDate, shownSentence } from "@/ui/writing";
import { Remarks } from "@/app/papers/Remarks";
import { decideLineAction, remarkOnLineAction, undoLinesAction } from "./actions";
import { CandidateCard } from "./CandidateCard";
import { CodingForm } from "./CodingForm";
import { ItemSearch } from "./ItemSearch";
import { OnAccountForm } from "./OnAccountForm";
import { PostingOfLine } from "./PostingOfLine";
import {
  RestChoice,
  codingBeside,
  restAccount,
  restName,
  restOf,
  usualRest,
  type KindChoice,
  type Rest,
} from "./RestChoice";

interface Props {
  line: StatementLineView;
  kinds: KindChoice[];
  codings: BankCodings | null;
  mayDecide: boolean;
  onClose: () => void;
  onDecided: () => void;
}

const NO_REST: Rest = { to: "", reason: "" };

/** What goes with a decision besides the line. */
export type Decision = Record<string, unknown>;

/** One line of a statement: what the bank says, what it may be and why, and what people decide. */
export function LinePanel({ line, kinds, codings, mayDecide, onClose, onDecided }: Props) {
  const work = useWork();
  const router = useRouter();
  const { busy, messages, act } = useAct();
  const [at, setAt] = useState(0);
  const [way, setWay] = useState<"candidates" | "items" | "coding" | "account" | "remark">(
    "candidates",
  );
  const candidate = line.candidates[at];
  const hasRest =
    candidate !== undefined &&
    candidate.kind === "" &&
    !candidate.coding &&
    !candidate.transfer &&
    !candidate.onAccount &&
    candidate.rest !== 0n;
  const [said, setSaid] = useState<Rest | null>(null);
  const restTo = said ?? (hasRest ? usualRest(candidate.rest, line.amount, kinds) : NO_REST);
  const decide = (decision: Decision) =>
    act(
      () => decideLineAction({ id: line.id, version: line.version, ...decision }),
      "Decided",
      onDecided,
    );
  const accept = (c: CandidateView) => void decide(decisionOf(c, line, restTo));
  const choose = (next: number) => {
    setAt(next);
    setSaid(null);
  };
  const undo = () => void act(() => undoLinesAction([line.id]), "Decision taken back");
  useEffect(() => {
    if (!mayDecide) return;
    const onKey = (e: KeyboardEvent) => {
      const isTyping = (e.target as HTMLElement).closest("input, select, textarea");
      if (isTyping || e.ctrlKey || e.metaKey || e.altKey) return;
      const keys: Record<string, () => void> = {
        a: () => candidate && line.state !== "chosen" && accept(candidate),
        u: () => line.state === "chosen" && undo(),
        x: () => choose((at + 1) % Math.max(1, line.candidates.length)),
        i: () => setWay("items"),
        c: () => setWay("coding"),
        o: () => setWay("account"),
        r: () => setWay("remark"),
      };
      const key = keys[e.key];
      if (!key) return;
      e.preventDefault();
      key();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });
  return (
    <SidePanel
      title={`${line.party.name || line.text.slice(0, 40) || "Bank movement"}, ${shownAmount(line.amount, line.currency)} ${line.currency}`}
      width={430}
      onClose={onClose}
    >
      <div
        className="flex flex-col gap-3"
        data-keys="a=Accept what is proposed;x=Next proposal;i=Other items;c=Coding;o=On account;r=Ask somebody;u=Take the decision back"
      >
        <BankSays line={line} />
        <Problems messages={messages} />
        {line.slip && (
          <p className="notice">
            It takes cheque {line.slip.cheque} back. Note on{" "}
            <Link className="link" href={work.link(`/banks/deposits/${line.slip.id}`)}>
              {line.slip.number}
            </Link>{" "}
            that it was returned: what it had paid is open again then, and this line is explained.
          </p>
        )}
        {line.outcome && (line.state === "chosen" || line.state === "posted") ? (
          <Decided {...{ line, kinds, codings, busy }} mayUndo={mayDecide} onUndo={undo} />
        ) : (
          <>
            {line.but && <p className="text-ink-2">{line.but}.</p>}
            {way === "candidates" && (
              <div role="radiogroup" aria-label="Proposals" className="flex flex-col gap-2">
                {line.candidates.map((c, i) => (
                  <CandidateCard
                    key={i}
                    candidate={c}
                    line={line}
                    chosen={i === at}
                    onChoose={() => choose(i)}
                  />
                ))}
                {line.candidates.length === 0 && (
                  <p className="text-ink-2">
                    No open item and no kind of movement fits. Look for items, or give it a coding.
                  </p>
                )}
              </div>
            )}
            {way === "candidates" && hasRest && mayDecide && (
              <RestChoice
                rest={candidate.rest}
                line={line}
                kinds={kinds}
                value={restTo}
                onChange={setSaid}
              />
            )}
            {way === "candidates" && candidate && (
              <PostingOfLine
                line={line}
                codings={codings}
                takes={candidate.takes}
                rest={candidate.rest}
                coding={codingBeside(candidate, kinds, restTo)}
                restName={restAccount(candidate) || restName(restTo, kinds)}
              />
            )}
            {way === "items" && (
              <ItemSearch line={line} kinds={kinds} busy={busy} onDecide={(d) => void decide(d)} />
            )}
            {way === "coding" && codings && (
              <CodingForm line={line} kinds={kinds} codings={codings} onDecided={onDecided} />
            )}
            {way === "account" && (
              <OnAccountForm line={line} busy={busy} onDecide={(d) => void decide(d)} />
            )}
            {mayDecide && (
              <div className="flex flex-wrap gap-2">
                {way === "candidates" && candidate && (
                  <button
                    type="button"
                    className="button button-main"
                    disabled={busy}
                    onClick={() => accept(candidate)}
                  >
                    Accept <kbd>a</kbd>
                  </button>
                )}
                {way !== "candidates" && (
                  <button type="button" className="button" onClick={() => setWay("candidates")}>
                    Proposals
                  </button>
                )}
                {way !== "items" && (
                  <button type="button" className="button" onClick={() => setWay("items")}>
                    Other items <kbd>i</kbd>
                  </button>
                )}
                {way !== "coding" && (
                  <button type="button" className="button" onClick={() => setWay("coding")}>
                    Coding <kbd>c</kbd>
                  </button>
                )}
                {way !== "account" && (
                  <button type="button" className="button" onClick={() => setWay("account")}>
                    On account <kbd>o</kbd>
                  </button>
                )}
              </div>
            )}
          </>
        )}
        {work.may("post.banks") && (
          <Link
            className="link self-start"
            href={work.link("/banks/rules", { line: String(line.id) })}
          >
            Make a rule of this
          </Link>
        )}
        {line.remarks.length > 0 || way === "remark" ? (
          <Remarks
            remarks={line.remarks}
            say={(text) => remarkOnLineAction(line.id, text)}
            said={() => router.refresh()}
          />
        ) : (
          <button type="button" className="button self-start" onClick={() => setWay("remark")}>
            Ask somebody <kbd>r</kbd>
          </button>
        )}
        {line.journal && (
          <p>
            Posted as{" "}
            <Link className="link" href={work.link(`/ledger/journals/${line.journal.id}`)}>
              {line.journal.number}
            </Link>
          </p>
        )}
      </div>
    </SidePanel>
  );
}

function decisionOf(c: CandidateView, line: StatementLineView, restTo: Rest): Decision {
  return {
    takes: c.takes.map((t) => ({
      item: t.item?.id ?? 0,
      amount: plainAmount(t.amount, line.currency),
      discount: t.discount === 0n ? "" : plainAmount(t.discount, line.currency),
    })),
    ...(c.transfer
      ? { transfer: { bank: c.transfer.bank, line: c.transfer.line } }
      : c.coding
        ? { coding: c.coding }
        : c.kind
          ? { kind: c.kind }
          : c.onAccount
            ? { onAccount: true, partner: c.partner }
            : restOf(restTo)),
  };
}

const plainAmount = (amount: bigint, currency: string): string =>
  decimalText(minor(amount < 0n ? -amount : amount), currency);

function BankSays({ line }: { line: StatementLineView }) {
  const work = useWork();
  return (
    <dl className="grid grid-cols-[112px_minmax(0,1fr)] gap-x-3 gap-y-1 text-[12.5px]">
      <dt className="text-ink-2">The bank says</dt>
      <dd className="break-words">{line.text || "nothing"}</dd>
      {line.party.account && (
        <>
          <dt className="text-ink-2">Account</dt>
          <dd className="break-all">{ibanText(line.party.account)}</dd>
        </>
      )}
      <dt className="text-ink-2">Booked, value</dt>
      <dd>
        {shownDate(line.booked)}, {shownDate(line.valued)}
      </dd>
      {line.keys.map((k) => (
        <div key={k.label} className="contents">
          <dt className="text-ink-2">{k.label}</dt>
          <dd className="break-all">{k.value}</dd>
        </div>
      ))}
      {line.returnReason && (
        <>
          <dt className="text-ink-2">Returned</dt>
          <dd>reason {line.returnReason} (ISO 20022)</dd>
        </>
      )}
      {line.code && (
        <>
          <dt className="text-ink-2">Bank’s code</dt>
          <dd>{line.code}</dd>
        </>
      )}
      <dt className="text-ink-2">Statement</dt>
      <dd>
        {line.statement.number}, {line.bank.code};{" "}
        {line.statement.file ? (
          <Link
            className="link"
            href={work.link(`/banks/statements/files/${line.statement.file.id}`, {
              at: String(line.statement.from),
            })}
          >
            {line.statement.file.name}, line {line.statement.from}
          </Link>
        ) : (
          "from paper"
        )}
      </dd>
      {line.details.length > 0 && (
        <>
          <dt className="text-ink-2">Parts</dt>
          <dd>{line.details.length} movements in one line</dd>
        </>
      )}
      {line.batch && (
        <>
          <dt className="text-ink-2">Part</dt>
          <dd>
            {line.batch.no} of {line.batch.of} of{" "}
            {shownAmount(minor(BigInt(line.batch.amount)), line.currency)} {line.currency}
            {line.batch.text && `, ${line.batch.text}`}
          </dd>
        </>
      )}
    </dl>
  );
}

function Decided({
  line,
  kinds,
  codings,
  mayUndo,
  busy,
  onUndo,
}: {
  line: StatementLineView;
  kinds: KindChoice[];
  codings: BankCodings | null;
  mayUndo: boolean;
  busy: boolean;
  onUndo: () => void;
}) {
  const outcome = line.outcome!;
  return (
    <>
      <p className="flex items-center gap-2">
        <Status of={line.state} />
        {line.decided && (
          <span className="text-ink-2">{shownSentence(`by ${line.decided.by}`)}</span>
        )}
      </p>
      <PostingOfLine
        line={line}
        codings={codings}
        takes={outcome.takes}
        rest={outcome.rest}
        coding={codingBeside(outcome, kinds)}
        restName={restAccount(outcome)}
      />
      {mayUndo && line.state === "chosen" && (
        <button type="button" className="button self-start" disabled={busy} onClick={onUndo}>
          Take back <kbd>u</kbd>
        </button>
      )}
    </>
  );
}
