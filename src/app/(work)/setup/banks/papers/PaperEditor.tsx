"use client";
import { useRouter } from "next/navigation";
import { minor } from "@/core/shared";
import { PAPER_KINDS, PAPER_NAMES, paperWords } from "@/core/banks";
import type { BankAccount, BankPaper } from "@/server/banks";
import { useAct } from "@/app/lib/useAct";
import { NotSaved, useLeaveGuard } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { Page, Problems } from "@/ui/Page";
import { usePrimaryKeys } from "@/ui/usePrimaryKeys";
import { saveRecordAction } from "../../actions";
import { PaperSettings } from "./PaperSettings";
import { PaperSheet } from "./PaperSheet";
import { PieceList } from "./PieceList";
import { usePaper } from "./usePaper";

/** How the cheques, bills and notes of a bank account look, set up on the paper itself. */
export function PaperEditor({
  paper: kept,
  account,
  accounts,
  mayChange,
}: {
  paper: BankPaper;
  account: BankAccount;
  accounts: BankAccount[];
  mayChange: boolean;
}) {
  const work = useWork();
  const router = useRouter();
  const paper = usePaper(kept.kind, kept.layout);
  const { busy, messages, act } = useAct();
  const guard = useLeaveGuard(paper.isChanged);
  const to = (code: string, kind: string) =>
    router.push(work.link("/setup/banks/papers", { account: code, kind }));
  const save = () =>
    act(
      () =>
        saveRecordAction("bankPaper", {
          code: kept.code,
          kind: kept.kind,
          layout: paper.layout,
          version: kept.version,
        }),
      "Saved. What is printed from now on looks like this.",
    );
  usePrimaryKeys(undefined, mayChange && paper.isChanged ? () => void save() : undefined);
  const words = paperWords({
    kind: kept.kind,
    company: account.companyName,
    bankName: account.bankName || account.name,
    number: "1042",
    place: "Ostry",
    date: work.today,
    dueDate: work.today,
    payee: kept.kind === "bill" ? account.companyName : "Sample Chandlers",
    drawee: "Sample Chandlers\n12 Example Wharf",
    payableAt: account.bankName || account.name,
    purpose: "Invoice 4711",
    amount: minor(123_456n),
    currency: account.currency,
  });
  const whole = paper.problems.filter((p) => !p.field.startsWith("pieces."));
  return (
    <Page
      title="Cheques, bills and notes"
      note={`of ${account.code}, ${account.name}`}
      actions={
        <>
          <NotSaved guard={guard} says="The layout is not saved." />
          <select
            aria-label="Bank account"
            className="field w-auto"
            value={kept.code}
            onChange={(e) => to(e.target.value, kept.kind)}
          >
            {accounts.map((a) => (
              <option key={a.code} value={a.code}>
                {a.code}
              </option>
            ))}
          </select>
          <select
            aria-label="Kind of paper"
            className="field w-auto"
            value={kept.kind}
            onChange={(e) => to(kept.code, e.target.value)}
          >
            {PAPER_KINDS.map((k) => (
              <option key={k} value={k}>
                {PAPER_NAMES[k]}
              </option>
            ))}
          </select>
          <a
            className="button"
            href={`/export/bank-paper?code=${encodeURIComponent(kept.code)}&kind=${kept.kind}`}
          >
            Sample (PDF)
          </a>
          {mayChange && (
            <>
              <button
                type="button"
                className="button"
                disabled={!paper.isChanged}
                onClick={paper.undo}
              >
                Undo
              </button>
              <button
                type="button"
                className="button button-main"
                disabled={busy || !paper.isChanged}
                onClick={() => void save()}
              >
                Save
              </button>
            </>
          )}
        </>
      }
    >
      <Problems messages={[...messages, ...whole.map((p) => p.what)]} />
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_minmax(320px,380px)] gap-3">
        <div
          className="min-h-0 overflow-y-auto rounded-lg border border-line bg-shade p-3"
          tabIndex={0}
          role="region"
          aria-label="The paper"
        >
          <PaperSheet paper={paper} kind={kept.kind} words={words} mayChange={mayChange} />
        </div>
        <div className="flex min-h-0 flex-col gap-2.5 overflow-y-auto">
          {mayChange && (
            <p className="text-ink-2">
              Drag what stands on the paper, or move it by the arrow keys: a millimetre each, with
              Shift a tenth.
            </p>
          )}
          <PieceList paper={paper} kind={kept.kind} mayChange={mayChange} />
          <PaperSettings paper={paper} kind={kept.kind} mayChange={mayChange} />
        </div>
      </div>
    </Page>
  );
}
