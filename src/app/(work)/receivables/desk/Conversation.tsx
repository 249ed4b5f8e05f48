"use client";
import Link from "next/link";
import { useState } from "react";
import type { Said } from "@/server/receivables";
import { useWork } from "@/ui/frame/work";
import { PanelFrame } from "@/ui/panel/PanelFrame";
import { shownDate, shownSentence } from "@/ui/writing";
import { Say } from "./Say";

/** Everything said with and about the customer, and a field to go on. */
export function Conversation({
  company,
  partner,
  said,
  onFold,
}: {
  company: string;
  partner: { code: string; name: string };
  said: readonly Said[];
  onFold: () => void;
}) {
  // They wait here, for they can be dropped anywhere on the conversation.
  const [files, setFiles] = useState<readonly File[]>([]);
  return (
    <PanelFrame
      label="Conversation"
      name="conversation"
      width={264}
      onDragOver={(e) => e.preventDefault()}
      onDrop={(e) => {
        e.preventDefault();
        setFiles((now) => [...now, ...e.dataTransfer.files]);
      }}
    >
      <div className="flex items-center justify-between px-4 pb-1 pt-3.5">
        <h2>Conversation</h2>
        <button
          type="button"
          className="button button-plain"
          data-keys="\=Fold the conversation"
          onClick={onFold}
        >
          Fold <kbd>\</kbd>
        </button>
      </div>
      <ol
        className="min-h-0 flex-1 overflow-y-auto px-4"
        tabIndex={0}
        aria-label={`Said with ${partner.name}`}
      >
        {said.map((s) => (
          <Line key={s.key} said={s} />
        ))}
        {said.length === 0 && <li className="text-ink-3">Nothing has been said yet.</li>}
      </ol>
      <Say company={company} partner={partner.code} files={files} onFiles={setFiles} />
    </PanelFrame>
  );
}

function Line({ said }: { said: Said }) {
  const work = useWork();
  const { next, on } = said;
  return (
    <li
      className={`mb-2 border-l-[3px] py-0.5 pl-2.5 ${said.bad ? "border-coral" : "border-line"}`}
    >
      <b className="font-semibold">{said.kind[0]!.toUpperCase() + said.kind.slice(1)}</b>{" "}
      <span className="text-xs text-ink-3">
        {shownDate(said.at.slice(0, 10))}, {said.by}
      </span>
      <p className="break-words">
        {on && (
          <>
            <Link className="link" href={work.link(on.page)}>
              {on.name}
            </Link>
            {": "}
          </>
        )}
        {shownSentence(said.text)}
      </p>
      {said.files.map((f) => (
        <a
          key={f.id}
          className="link block truncate text-xs"
          href={`/attachments/${f.id}`}
          download
        >
          {f.name}
        </a>
      ))}
      {next && (
        <p className="text-xs text-ink-2">
          Next: {next.step || "look again"}
          {next.on ? `, ${shownDate(next.on)}` : ""}
        </p>
      )}
    </li>
  );
}
