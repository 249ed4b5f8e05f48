"use client";
import { useState } from "react";
import { Paperclip, X } from "lucide-react";
import { toast } from "sonner";
import { REMARK_KINDS, type RemarkKind } from "@/core/documents";
import { readDate } from "@/core/shared";
import { useAct } from "@/app/lib/useAct";
import { PAPER_KINDS, sendPaper } from "@/app/papers/sendPaper";
import { DateField } from "@/ui/date/DateField";
import { useWork } from "@/ui/frame/work";
import { sayOfCustomerAction } from "./actions";

/** A call, a note, a letter: what was said, the files that came with it, and what is next. */
export function Say({
  company,
  partner,
  files,
  onFiles,
}: {
  company: string;
  partner: string;
  files: readonly File[];
  onFiles: (files: readonly File[]) => void;
}) {
  const work = useWork();
  const [kind, setKind] = useState<RemarkKind>("call");
  const [text, setText] = useState("");
  const [nextStep, setNextStep] = useState("");
  const [nextOn, setNextOn] = useState("");
  const { busy, messages, setMessages, act } = useAct();
  const empty = text.trim() === "" && files.length === 0;
  const note = async () => {
    const noted = await sayOfCustomerAction({
      company,
      partner,
      kind,
      text: text.trim() || files.map((f) => f.name).join(", "),
      nextStep,
      nextOn: readDate(nextOn, work.today) ?? nextOn,
    });
    if (!noted.ok) return noted;
    const refused: { file: File; why: string }[] = [];
    for (const file of files) {
      const why = await sendPaper({ remark: noted.value.id }, file);
      if (why) refused.push({ file, why });
    }
    return { ...noted, value: { ...noted.value, refused } };
  };
  const say = () =>
    void act(
      note,
      ({ called, refused }) => {
        if (called.length > 0) toast(`${called.join(" and ")} will find it on the desk.`);
        return refused.length > 0 ? "Noted, without a file." : "Noted.";
      },
      ({ refused }) => {
        setText("");
        setNextStep("");
        setNextOn("");
        onFiles(refused.map((r) => r.file));
        setMessages(refused.map((r) => r.why));
      },
    );
  return (
    <form
      className="flex flex-col gap-1.5 border-t border-line px-4 py-3"
      onSubmit={(e) => {
        e.preventDefault();
        say();
      }}
    >
      {messages.map((m) => (
        <p key={m} role="alert" className="text-coral">
          {m}
        </p>
      ))}
      <div className="flex gap-1.5">
        <select
          aria-label="What it was"
          className="field w-auto"
          value={kind}
          onChange={(e) => setKind(e.target.value as RemarkKind)}
        >
          {REMARK_KINDS.map((k) => (
            <option key={k} value={k}>
              {k[0]!.toUpperCase() + k.slice(1)}
            </option>
          ))}
        </select>
        <FileChoice onFiles={(chosen) => onFiles([...files, ...chosen])} />
        <button type="submit" className="button ml-auto" disabled={busy || empty}>
          Note
        </button>
      </div>
      {files.map((file, i) => (
        <p key={i} className="flex items-center gap-1 text-xs">
          <span className="min-w-0 flex-1 truncate">{file.name}</span>
          <button
            type="button"
            aria-label={`Leave out ${file.name}`}
            className="rounded p-0.5 text-ink-2 hover:bg-shade"
            onClick={() => onFiles(files.filter((f) => f !== file))}
          >
            <X size={13} />
          </button>
        </p>
      ))}
      <textarea
        id="say-text"
        aria-label="What was said"
        className="field h-14! py-1.5"
        data-keys="c=Note a call"
        placeholder="What was said; @ calls somebody"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === "Enter" && (e.ctrlKey || e.metaKey) && !empty) {
            e.preventDefault();
            say();
          }
        }}
      />
      <div className="flex gap-1.5">
        <input
          className="field min-w-0 flex-1"
          aria-label="Next step"
          placeholder="Next step"
          value={nextStep}
          onChange={(e) => setNextStep(e.target.value)}
        />
        <div className="w-28">
          <DateField
            aria-label="Next step on"
            placeholder="on"
            value={nextOn}
            onChange={(t: string) => setNextOn(t)}
          />
        </div>
      </div>
    </form>
  );
}

/** Chooses files; what was chosen before stays. */
function FileChoice({ onFiles }: { onFiles: (files: File[]) => void }) {
  return (
    <label
      className="button cursor-pointer focus-within:outline-2 focus-within:outline-sea"
      title="Add a file: PDF, PNG, JPEG, XLSX, CSV or text, up to 8 MB"
    >
      <Paperclip size={15} aria-hidden />
      <input
        type="file"
        multiple
        className="sr-only"
        aria-label="Add a file"
        accept={PAPER_KINDS}
        onChange={(e) => {
          onFiles([...(e.target.files ?? [])]);
          e.target.value = "";
        }}
      />
    </label>
  );
}
