"use client";
import type { BankAccount } from "@/server/banks";
import { useAct } from "@/app/lib/useAct";
import { Problems } from "@/ui/Page";
import { shownDate } from "@/ui/writing";
import { saveRecordAction } from "../actions";

/** What waits of an account for a second person, who agrees to it here. */
export function Agreement({ account }: { account: BankAccount }) {
  const { busy, messages, act } = useAct();
  if (account.waits === "") return null;
  const decide = (agree: boolean) =>
    void act(
      () => saveRecordAction("agreement", { code: account.code, version: account.version, agree }),
      agree ? `${account.code}: agreed.` : `${account.code} stays open.`,
    );
  return (
    <div className="notice flex-col items-start gap-2">
      <p>
        {account.waits === "opening" && "The account is new: nobody pays from it or to it before"}
        {account.waits === "change" && "The account was changed: it is out of use until"}
        {account.waits === "closing" &&
          `It is to be closed on ${shownDate(account.closesOn ?? "")}, once`}{" "}
        somebody other than {account.askedByName} agrees.
      </p>
      <Problems messages={messages} />
      <span className="flex gap-2">
        <button type="button" className="button" disabled={busy} onClick={() => decide(true)}>
          Agree
        </button>
        {account.waits === "closing" && (
          <button type="button" className="button" disabled={busy} onClick={() => decide(false)}>
            Keep it open
          </button>
        )}
      </span>
    </div>
  );
}

/** Whether new and changed accounts want a second person. */
export function SecondPerson({ start, mayChange }: { start: boolean; mayChange: boolean }) {
  const { busy, messages, act } = useAct();
  return (
    <div className="panel flex flex-wrap items-center gap-3 px-4 py-2.5">
      <span>
        {start
          ? "A new, changed or closing account waits for a second person."
          : "Whoever changes an account needs nobody else."}
      </span>
      {mayChange && (
        <button
          type="button"
          className="button"
          disabled={busy}
          onClick={() =>
            void act(
              () => saveRecordAction("accountControl", { secondPerson: !start }),
              start ? "No second person is asked for." : "A second person is asked for.",
            )
          }
        >
          {start ? "Stop asking for one" : "Ask for a second person"}
        </button>
      )}
      <Problems messages={messages} />
    </div>
  );
}
