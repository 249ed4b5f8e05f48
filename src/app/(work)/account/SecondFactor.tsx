"use client";
import { useState } from "react";
import type { FactorView } from "@/server/access";
import { useAct } from "@/app/lib/useAct";
import { CodeField } from "@/ui/CodeField";
import { Problems } from "@/ui/Page";
import {
  confirmSecondFactorAction,
  removeSecondFactorAction,
  startSecondFactorAction,
} from "./actions";

interface Begun {
  secret: string;
  picture: string;
}

/** The second factor of one's own sign-in: set up, its recovery codes, removed. */
export function SecondFactor({ view }: { view: FactorView }) {
  const [codes, setCodes] = useState<readonly string[]>([]);
  return (
    <section className="panel grid content-start gap-3 p-4" aria-label="Second factor">
      <h2>Second factor</h2>
      {view.demanded && !view.confirmed && (
        <p role="alert" className="text-coral">
          Your role demands a second factor. Set it up here; until then you can do nothing else.
        </p>
      )}
      {codes.length > 0 && <RecoveryCodes codes={codes} />}
      {view.confirmed ? (
        <Remove left={view.recoveryCodesLeft} demanded={view.demanded} />
      ) : (
        <SetUp onCodes={setCodes} />
      )}
    </section>
  );
}

function SetUp({ onCodes }: { onCodes: (codes: readonly string[]) => void }) {
  const { busy, messages, act } = useAct();
  const [begun, setBegun] = useState<Begun | null>(null);
  const [code, setCode] = useState("");
  if (!begun)
    return (
      <>
        <Problems messages={messages} />
        <p className="text-ink-2">
          With a second factor, whoever knows your password still needs your telephone to sign in.
        </p>
        <button
          type="button"
          className="button justify-self-start"
          disabled={busy}
          onClick={() =>
            void act(async () => {
              const answer = await startSecondFactorAction();
              if (answer.ok) setBegun(answer.value);
              return answer;
            }, "Scan the picture, then give the code.")
          }
        >
          Set up a second factor
        </button>
      </>
    );
  return (
    <form
      className="grid gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        void act(async () => {
          const answer = await confirmSecondFactorAction(code);
          if (answer.ok) onCodes(answer.value.codes);
          return answer;
        }, "Your second factor is set up.");
      }}
    >
      <Problems messages={messages} />
      <p className="text-ink-2">
        Scan the picture with an authenticator on your telephone, or type the key into it.
      </p>
      {/* A picture made for this page alone; nothing of it is fetched. */}
      {/* eslint-disable-next-line @next/next/no-img-element */}
      <img src={begun.picture} alt="Key for the authenticator" width={180} height={180} />
      <code className="break-all text-xs">{begun.secret}</code>
      <CodeField value={code} onChange={setCode} />
      <button type="submit" className="button button-main justify-self-start" disabled={busy}>
        Confirm the code
      </button>
    </form>
  );
}

function RecoveryCodes({ codes }: { codes: readonly string[] }) {
  return (
    <div className="rounded-md border border-line p-3">
      <p className="mb-2 font-semibold">
        Recovery codes, shown this once. Keep them where your telephone is not.
      </p>
      <ul className="grid grid-cols-2 gap-1 font-mono">
        {codes.map((c) => (
          <li key={c}>{c}</li>
        ))}
      </ul>
    </div>
  );
}

function Remove({ left, demanded }: { left: number; demanded: boolean }) {
  const { busy, messages, act } = useAct();
  const [code, setCode] = useState<string | null>(null);
  return (
    <>
      <Problems messages={messages} />
      <p className="text-ink-2">
        Set up. {left} recovery {left === 1 ? "code is" : "codes are"} left
        {left < 3 ? "; remove the factor and set it up again for new ones" : ""}.
        {demanded ? " Your role demands it: removed, it has to be set up again at once." : ""}
      </p>
      {code === null ? (
        <button type="button" className="button justify-self-start" onClick={() => setCode("")}>
          Remove the second factor
        </button>
      ) : (
        <form
          className="grid gap-3"
          onSubmit={(e) => {
            e.preventDefault();
            void act(
              () => removeSecondFactorAction(code),
              "Removed.",
              () => setCode(null),
            );
          }}
        >
          <CodeField value={code} onChange={setCode} />
          <div className="flex gap-2">
            <button type="submit" className="button button-main" disabled={busy}>
              Remove
            </button>
            <button type="button" className="button" onClick={() => setCode(null)}>
              Cancel
            </button>
          </div>
        </form>
      )}
    </>
  );
}
