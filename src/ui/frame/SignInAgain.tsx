"use client";
import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { useEffect, useState } from "react";
import { CodeField } from "../CodeField";

/** Said by whatever finds that the session has ended, and when somebody has signed in again. */
export const SIGNED_OUT = "anchor:signed-out";
export const SIGNED_IN = "anchor:signed-in";

interface Props {
  login: string;
  signIn: SignIn;
}
/** Signs in; why not, where that is refused. */
export type SignIn = (
  login: string,
  password: string,
  code: string,
) => Promise<{ message: string; needsCode: boolean } | null>;

/**
 * Asks for the password in place when a session has ended, so that nobody loses the page and what
 * stands on it. Somebody else has to leave and sign in anew: the page belongs to its person.
 */
export function SignInAgain({ login, signIn }: Props) {
  const [open, setOpen] = useState(false);
  const [password, setPassword] = useState("");
  /** Null while nobody has asked for it. */
  const [code, setCode] = useState<string | null>(null);
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  useEffect(() => {
    const show = () => setOpen(true);
    window.addEventListener(SIGNED_OUT, show);
    return () => window.removeEventListener(SIGNED_OUT, show);
  }, []);
  const submit = async () => {
    setBusy(true);
    const refused = await signIn(login, password, code ?? "").catch(() => ({
      message: "The server did not answer. Try again.",
      needsCode: code !== null,
    }));
    setBusy(false);
    setProblem(refused?.message ?? "");
    setCode(refused?.needsCode ? "" : null);
    // While a code is asked for, the password was right and stays.
    if (!refused?.needsCode) setPassword("");
    if (refused) return;
    setOpen(false);
    window.dispatchEvent(new Event(SIGNED_IN));
  };
  return (
    <Dialog open={open} onClose={() => setOpen(false)} className="relative z-50">
      <div className="fixed inset-0 grid place-items-center bg-ink/30">
        <DialogPanel className="panel w-[340px] p-6">
          <DialogTitle as="h2" className="mb-1">
            Your session has ended
          </DialogTitle>
          <p className="mb-4 text-ink-2">
            What you have typed is kept in this browser. Sign in as {login} to go on here.
          </p>
          <form
            className="grid gap-3"
            onSubmit={(e) => {
              e.preventDefault();
              void submit();
            }}
          >
            <div>
              <label className="label" htmlFor="again-password">
                Password
              </label>
              <input
                id="again-password"
                type="password"
                className="field"
                autoComplete="current-password"
                autoFocus
                required
                value={password}
                onChange={(e) => setPassword(e.target.value)}
              />
            </div>
            {code !== null && <CodeField value={code} onChange={setCode} />}
            <p role="alert" className="min-h-5 text-coral">
              {problem}
            </p>
            <button type="submit" className="button button-main justify-center" disabled={busy}>
              Sign in
            </button>
          </form>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
