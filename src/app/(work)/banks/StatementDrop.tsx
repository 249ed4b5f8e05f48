"use client";
import { useRouter } from "next/navigation";
import { useRef, useState, type ReactNode } from "react";
import { toast } from "sonner";
import { useWork } from "@/ui/frame/work";
import { Problems } from "@/ui/Page";
import { PaperDrop } from "@/app/papers/PaperDrop";
import { sendStatements } from "./sendStatements";
import { TableReadingDialog } from "./TableReadingDialog";

/** Takes bank files in, one after the other: chosen on the button or dropped on the page. */
export function useStatementFiles() {
  const router = useRouter();
  const [busy, setBusy] = useState(false);
  const [messages, setMessages] = useState<string[]>([]);
  /** Tables that somebody has to say how to read, one after the other. */
  const [tables, setTables] = useState<File[]>([]);
  const working = useRef(false);
  /** Takes files in; `before` is what stood against others before it came to that. */
  const take = async (files: readonly File[], before: readonly string[] = []) => {
    if (working.current) return;
    if (files.length === 0) return setMessages([...before]);
    working.current = true;
    setBusy(true);
    const refused: string[] = [...before];
    const unread: File[] = [];
    for (const file of files) {
      const result = await sendStatements(file);
      if (result.ok) toast.success(result.says);
      else if (result.needsReading) unread.push(file);
      else refused.push(result.says);
    }
    setMessages(refused);
    setTables(unread);
    working.current = false;
    setBusy(false);
    router.refresh();
  };
  /** The first table is taken in, or left. */
  const tableDone = (says?: string) => {
    if (says) {
      toast.success(says);
      router.refresh();
    }
    setTables((t) => t.slice(1));
  };
  return { busy, messages, take, table: tables[0], tableDone };
}

type Files = ReturnType<typeof useStatementFiles>;

/** The button that takes files; only for who may. */
export function StatementButton({ files, main = false }: { files: Files; main?: boolean }) {
  const work = useWork();
  const input = useRef<HTMLInputElement>(null);
  if (!work.may("prepare.banks")) return null;
  return (
    <>
      <input
        ref={input}
        type="file"
        multiple
        hidden
        aria-label="Bank files"
        accept=".xml,.sta,.mt940,.940,.txt,.camt,.c53,.c52,.c54,.csv,.xlsx"
        onChange={(e) => {
          void files.take([...(e.target.files ?? [])]);
          e.target.value = "";
        }}
      />
      <button
        type="button"
        className={`button ${main ? "button-main" : ""}`}
        disabled={files.busy}
        onClick={() => input.current?.click()}
      >
        {files.busy ? "Reading …" : "Load statements"}
      </button>
    </>
  );
}

export function StatementDrop({ files, children }: { files: Files; children: ReactNode }) {
  return (
    <PaperDrop what="Drop to load these statements" onPapers={(f) => void files.take(f)}>
      <Problems messages={files.messages} />
      {children}
      {files.table && (
        <TableReadingDialog
          key={files.table.name}
          file={files.table}
          onTaken={files.tableDone}
          onLeft={() => files.tableDone()}
        />
      )}
    </PaperDrop>
  );
}
