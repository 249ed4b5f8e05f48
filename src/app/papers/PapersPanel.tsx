"use client";
import { useCallback, useEffect, useState } from "react";
import { Paperclip, X } from "lucide-react";
import type { Papers } from "@/server/documents";
import { PanelFrame } from "@/ui/panel/PanelFrame";
import { PdfPages } from "./PdfPages";
import { Remarks } from "./Remarks";
import { PAPER_KINDS, sendPaper } from "./sendPaper";
import { addRemarkAction, papersAction, removeAttachmentAction } from "./actions";
import { shownDate } from "@/ui/writing";

const firstPdf = ({ attachments }: Papers): number | null =>
  attachments.find((a) => a.type === "application/pdf")?.id ?? null;

/** What hangs on a document: papers, remarks, and who did what with it. */
export function PapersPanel({
  id,
  onClose,
}: {
  id: () => Promise<number | null>;
  onClose: () => void;
}) {
  const [document, setDocument] = useState<number | null>(null);
  const [papers, setPapers] = useState<Papers | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const [shown, setShown] = useState<number | "first" | null>("first");
  const load = useCallback(async (key: number) => {
    const result = await papersAction(key).catch(() => null);
    if (result?.ok) {
      setPapers(result.value);
      setShown((now) => (now === "first" ? firstPdf(result.value) : now));
    } else setProblem(result?.message ?? "The server did not answer. Try again.");
  }, []);
  useEffect(() => {
    void id().then((key) => {
      setDocument(key);
      if (key !== null) void load(key);
    });
  }, [id, load]);
  const add = async (files: FileList | null) => {
    if (document === null || !files) return;
    setBusy(true);
    setProblem(null);
    for (const file of files) {
      const refused = await sendPaper({ document }, file);
      if (refused) setProblem(refused);
    }
    setBusy(false);
    void load(document);
  };
  const when = (at: string) => `${shownDate(at.slice(0, 10))} ${at.slice(11, 16)}`;
  return (
    <PanelFrame
      label="Papers"
      name={typeof shown !== "number" ? "papers" : "paper"}
      width={typeof shown !== "number" ? 340 : 480}
      onDragOver={(e) => e.preventDefault()}
      onDrop={(e) => {
        e.preventDefault();
        void add(e.dataTransfer.files);
      }}
    >
      <div className="flex min-h-0 flex-1 flex-col gap-4 overflow-y-auto px-4 py-3.5">
        <div className="flex items-center">
          <h2 className="flex-1">Papers and remarks</h2>
          <button
            type="button"
            aria-label="Close the papers"
            className="rounded p-1 text-ink-2 hover:bg-shade"
            onClick={onClose}
          >
            <X size={15} />
          </button>
        </div>
        {problem && (
          <p role="alert" className="rounded bg-coral-2 px-2 py-1">
            {problem}
          </p>
        )}
        {document === null && !problem && (
          <p className="text-ink-2">
            Papers can be added once something has been written and saved.
          </p>
        )}
        {document !== null && papers && (
          <>
            <section aria-label="Papers of the document">
              <ul>
                {papers.attachments.map((a) => (
                  <li
                    key={a.id}
                    className="flex items-baseline gap-2 border-b border-line-2 py-1.5"
                  >
                    <a
                      className="link min-w-0 flex-1 truncate"
                      href={`/attachments/${a.id}`}
                      download
                      title={`${a.name}, by ${a.by}, ${when(a.at)}`}
                    >
                      {a.name}
                    </a>
                    {a.type === "application/pdf" && (
                      <button
                        type="button"
                        className="link text-xs"
                        aria-expanded={shown === a.id}
                        onClick={() => setShown(shown === a.id ? null : a.id)}
                      >
                        {shown === a.id ? "Hide" : "Show"}
                      </button>
                    )}
                    <span className="text-xs text-ink-3">{(a.size / 1024).toFixed(0)} kB</span>
                    {a.mayRemove && (
                      <button
                        type="button"
                        aria-label={`Remove ${a.name}`}
                        className="rounded p-0.5 text-ink-2 hover:bg-shade"
                        onClick={() => void removeAttachmentAction(a.id).then(() => load(document))}
                      >
                        <X size={13} />
                      </button>
                    )}
                  </li>
                ))}
              </ul>
              {papers.attachments.map((a) => (
                <ul key={a.id} aria-label={`What ${a.name} says`} className="text-ink-2">
                  {a.says.map((s) => (
                    <li key={s}>{s}</li>
                  ))}
                </ul>
              ))}
              {papers.attachments
                .filter((a) => a.id === shown)
                .map((a) => (
                  <PdfPages key={a.id} url={`/attachments/${a.id}`} name={a.name} />
                ))}
              {papers.attachments.length === 0 && <p className="text-ink-2">No paper yet.</p>}
              {papers.mayAdd && (
                <label className="button mt-2 cursor-pointer focus-within:outline-2 focus-within:outline-sea">
                  <Paperclip size={15} aria-hidden />
                  {busy ? "Adding …" : "Add, or drop here"}
                  <input
                    type="file"
                    multiple
                    className="sr-only"
                    aria-label="Add a paper"
                    accept={PAPER_KINDS}
                    onChange={(e) => {
                      void add(e.target.files).then(() => {
                        e.target.value = "";
                      });
                    }}
                  />
                </label>
              )}
              <p className="pt-1 text-xs text-ink-3">
                PDF, PNG, JPEG, XLSX, CSV or text, up to 8 MB each; kept in the database.
              </p>
            </section>
            <Remarks
              remarks={papers.remarks}
              say={(text) => addRemarkAction(document, text)}
              said={() => void load(document)}
            />
            <section aria-label="History of the document">
              <h3 className="label">History</h3>
              {papers.history.map((h, i) => (
                <p key={i} className="text-ink-2">
                  {when(h.at)} · {h.by} · {h.action}
                </p>
              ))}
            </section>
          </>
        )}
      </div>
    </PanelFrame>
  );
}
