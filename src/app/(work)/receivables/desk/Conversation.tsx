"use client";
import Link from "next/link";
import { useState } from "react";
import { toast } from "sonner";
import { REMARK_KINDS, type RemarkKind } from "@/core/documents";
import { readDate } from "@/core/shared";
import type { Said } from "@/server/receivables";
import { useAct } from "@/app/lib/useAct";
import { DateField } from "@/ui/date/DateField";
import { useWork } from "@/ui/frame/work";
import { PanelFrame } from "@/ui/panel/PanelFrame";
import { shownDate, shownSentence } from "@/ui/writing";
import { sayOfCustomerAction } from "./actions";

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
  return (
    <PanelFrame label="Conversation" name="conversation" width={264}>
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
      <Say company={company} partner={partner.code} />
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
      {next && (
        <p className="text-xs text-ink-2">
          Next: {next.step || "look again"}
          {next.on ? `, ${shownDate(next.on)}` : ""}
        </p>
      )}
    </li>
  );
}

/** A call, a note, a letter: what was said, and what is to be done next. */
function Say({ company, partner }: { company: string; partner: string }) {
  const work = useWork();
  const [kind, setKind] = useState<RemarkKind>("call");
  const [text, setText] = useState("");
  const [nextStep, setNextStep] = useState("");
  const [nextOn, setNextOn] = useState("");
  const { busy, messages, act } = useAct();
  const say = () =>
    void act(
      () =>
        sayOfCustomerAction({
          company,
          partner,
          kind,
          text,
          nextStep,
          nextOn: readDate(nextOn, work.today) ?? nextOn,
        }),
      ({ called }) => {
        if (called.length > 0) toast(`${called.join(" and ")} will find it on the desk.`);
        return "Noted.";
      },
      () => {
        setText("");
        setNextStep("");
        setNextOn("");
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
        <button type="submit" className="button ml-auto" disabled={busy || !text.trim()}>
          Note
        </button>
      </div>
      <textarea
        id="say-text"
        aria-label="What was said"
        className="field h-14! py-1.5"
        data-keys="c=Note a call"
        placeholder="What was said; @ calls somebody"
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === "Enter" && (e.ctrlKey || e.metaKey) && text.trim()) {
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
