"use client";
import type { BankFolder } from "@/server/banks";
import { useAct } from "@/app/lib/useAct";
import { Problems } from "@/ui/Page";
import { shownMoment, shownSentence } from "@/ui/writing";
import { saveBankFolderAction } from "../../actions";

/** The folder of the server into which banks put files: whether they come in, and what was refused. */
export function Folder({ folder, path }: { folder: BankFolder; path: string }) {
  const { busy, messages, act } = useAct();
  const isOn = folder.by !== null;
  return (
    <section className="panel flex shrink-0 flex-col gap-2 px-4 py-2.5" aria-label="Folder">
      <div className="flex flex-wrap items-center gap-3">
        <span className="min-w-0 flex-1">
          {isOn
            ? `Files in ${path} come in by themselves, as ${folder.by}.`
            : `Files in ${path} are not taken in by themselves.`}
        </span>
        {folder.mayChange && (
          <button
            type="button"
            className="button"
            disabled={busy}
            onClick={() =>
              void act(
                () => saveBankFolderAction(!isOn),
                isOn ? "Files stay where they are." : "Files come in as you.",
              )
            }
          >
            {isOn ? "Stop taking them in" : "Take them in as me"}
          </button>
        )}
      </div>
      <Problems messages={messages} />
      {folder.refused.length > 0 && (
        <details open={folder.refused.length < 4}>
          <summary className="cursor-pointer font-semibold">
            {folder.refused.length} refused
          </summary>
          <ul className="max-h-40 overflow-auto" tabIndex={0} aria-label="Refused files">
            {folder.refused.map((f) => (
              <li key={f.id} className="grid grid-cols-[150px_minmax(0,240px)_1fr] gap-3 py-0.5">
                <span className="text-ink-2">{shownMoment(f.at)}</span>
                <b className="truncate font-semibold">{f.name}</b>
                <span>{shownSentence(f.says)}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}
