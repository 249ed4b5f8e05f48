"use client";
import { useId, useState } from "react";
import { useForm } from "react-hook-form";
import type { ReasonPlace } from "@/core/documents";
import type { Answer } from "./answer";
import { OfferedReasons } from "./OfferedReasons";
import { useAct } from "./useAct";

interface Props<T> {
  /** What will happen, in a sentence. */
  says?: string;
  placeholder?: string;
  /** Where it is: reasons that are set up for it are offered. */
  place?: ReasonPlace;
  /** What is done: "Reverse the run". */
  button: string;
  job: (reason: string) => Promise<Answer<T>>;
  /** What is said when it is done. */
  done: string | ((value: T) => string);
  close: () => void;
}

/**
 * Asks for the reason of an act that takes something back: Enter does it, Esc leaves it. What stands
 * against it is said at the reason, which stays as it was typed.
 */
export function ReasonForm<T>({ says, placeholder, place, button, job, done, close }: Props<T>) {
  const offered = useId();
  const { busy, messages, act } = useAct();
  const { register, handleSubmit } = useForm({ defaultValues: { reason: "" } });
  const [asked, setAsked] = useState(false);
  const faults = useId();
  const submit = handleSubmit(async ({ reason }) => {
    setAsked(true);
    await act(() => job(reason), done, close);
  });
  const wrong = asked && messages.length > 0;
  return (
    <form
      className="panel flex shrink-0 items-start gap-3 px-3 py-2.5"
      data-keys="Esc=Leave the form"
      onSubmit={(e) => void submit(e)}
      onKeyDown={(e) => {
        if (e.key !== "Escape" || e.defaultPrevented) return;
        e.preventDefault();
        close();
      }}
    >
      {says && <p className="flex-1 py-1">{says}</p>}
      <div className={says ? "w-80" : "flex-1"}>
        <input
          {...register("reason")}
          autoFocus
          aria-label="Reason"
          aria-invalid={wrong}
          aria-describedby={wrong ? faults : undefined}
          className="field"
          maxLength={500}
          placeholder={placeholder ?? "Why?"}
          list={offered}
        />
        <OfferedReasons id={offered} place={place} />
        {wrong && (
          <p id={faults} role="alert" className="mt-1 text-xs text-coral">
            {messages.join(" ")}
          </p>
        )}
      </div>
      <button type="submit" className="button button-main" disabled={busy}>
        {button}
      </button>
      <button type="button" className="button" onClick={close}>
        {button.startsWith("Cancel") ? "Close" : "Cancel"}
      </button>
    </form>
  );
}
