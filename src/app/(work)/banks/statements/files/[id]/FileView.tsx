"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import type { StatementFileView } from "@/server/banks";
import { useWork } from "@/ui/frame/work";
import { Page } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { shownAmount, shownMoment } from "@/ui/writing";
import { ReasonForm } from "@/app/lib/ReasonForm";
import { takeBackFileAction } from "../../../actions";

type Read = StatementFileView["read"][number];

/** A file as the bank sent it, with what was read of each of its lines beside them. */
export function FileView({ file, at }: { file: StatementFileView; at: number }) {
  const work = useWork();
  const router = useRouter();
  const [isAsked, setAsked] = useState(false);
  const here = (line: number) =>
    work.link(`/banks/statements/files/${file.id}`, { at: String(line) });
  const last = file.from + file.text.length - 1;
  return (
    <Page
      title={file.name}
      note={`${file.format}, taken in ${shownMoment(file.at)} by ${file.by}${file.takenBack ? ", taken back" : ""}`}
      actions={
        <>
          {work.may("prepare.banks") && !file.takenBack && (
            <button type="button" className="button" onClick={() => setAsked(true)}>
              Take back
            </button>
          )}
          <a className="button" href={`/bank-files?id=${file.id}`}>
            Download
          </a>
        </>
      }
    >
      {isAsked && (
        <ReasonForm
          says={`${file.name} goes with all its statements; it may come in again.`}
          place="statements"
          button="Take back"
          job={(reason) => takeBackFileAction(file.id, reason)}
          done={`${file.name} is taken back`}
          close={() => {
            setAsked(false);
            router.refresh();
          }}
        />
      )}
      {file.isText ? (
        <>
          {(file.from > 1 || last < file.lines) && (
            <nav aria-label="Parts of the file" className="flex items-center gap-3">
              {file.from > 1 && (
                <Link className="link" href={here(Math.max(1, file.from - file.text.length + 20))}>
                  Lines before
                </Link>
              )}
              <span className="text-ink-2">
                Lines {file.from} to {last} of {file.lines}
              </span>
              {last < file.lines && (
                <Link className="link" href={here(last + 21)}>
                  Lines after
                </Link>
              )}
            </nav>
          )}
          <Lines file={file} at={at} />
        </>
      ) : (
        <p>This file is a workbook: download it to look at it.</p>
      )}
    </Page>
  );
}

function Lines({ file, at }: { file: StatementFileView; at: number }) {
  const begins = new Map<number, Read[]>();
  for (const r of file.read) {
    const line = Math.max(r.from, file.from);
    begins.set(line, [...(begins.get(line) ?? []), r]);
  }
  const holds = (r: Read, line: number) => r.from <= line && line <= r.to;
  const isRead = (line: number) => file.read.some((r) => holds(r, line));
  // The movement that was asked for, as a whole.
  const asked = file.read.find((r) => holds(r, at));
  const isAsked = (line: number) => line === at || (asked !== undefined && holds(asked, line));
  return (
    <div
      className="panel min-h-0 flex-1 overflow-auto py-1 font-mono text-xs"
      tabIndex={0}
      role="region"
      aria-label="Lines of the file"
    >
      <table className="w-full">
        <tbody>
          {file.text.map((text, i) => {
            const line = file.from + i;
            return (
              <tr
                key={line}
                className={isAsked(line) ? "bg-yellow-2" : isRead(line) ? "bg-shade" : ""}
                ref={line === at ? (e) => void e?.scrollIntoView({ block: "center" }) : undefined}
              >
                <th scope="row" className="w-14 px-2 text-right align-top font-normal text-ink-3">
                  {line}
                </th>
                <td className="break-all whitespace-pre-wrap px-2 align-top">{text}</td>
                <td className="w-80 px-2 align-top font-sans">
                  {begins.get(line)?.map((r) => (
                    <Movement key={r.id} read={r} />
                  ))}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

function Movement({ read }: { read: Read }) {
  const work = useWork();
  return (
    <Link
      className="flex items-center gap-2"
      href={work.link("/banks/lines", { line: String(read.id), status: "all" })}
    >
      <span className="link tabular-nums">
        {shownAmount(read.amount, read.currency)} {read.currency}
      </span>
      <span className="text-ink-2">{read.bank}</span>
      <Status of={read.state} />
    </Link>
  );
}
