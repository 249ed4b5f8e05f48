"use client";
import { startTransition, useActionState, useRef, useState } from "react";
import { CodeField } from "@/ui/CodeField";
import { signInAction } from "./actions";

/** Whom the demo offers; all sign in with one password. */
interface Demo {
  people: readonly { login: string; name: string; what: string }[];
  password: string;
}

export function SignInForm({ to, demo }: { to: string; demo: Demo | null }) {
  const [state, action, pending] = useActionState(signInAction, {
    message: null,
    login: "",
    needsCode: false,
  });
  // Held here, so that it stays while the code is asked for.
  const [password, setPassword] = useState("");
  const form = useRef<HTMLFormElement>(null);
  const signInAs = (login: string, demoPassword: string) => {
    const typed = new FormData(form.current!);
    typed.set("login", login);
    typed.set("password", demoPassword);
    startTransition(() => action(typed));
  };
  return (
    <div className={demo ? "grid grid-cols-[290px_minmax(0,1fr)] gap-8" : ""}>
      <form ref={form} action={action} className="grid content-start gap-3">
        <input type="hidden" name="to" value={to} />
        <div>
          <label className="label" htmlFor="login">
            Sign-in name
          </label>
          <input
            id="login"
            name="login"
            className="field"
            autoComplete="username"
            autoFocus
            required
            defaultValue={state.login}
            key={state.login}
          />
        </div>
        <div>
          <label className="label" htmlFor="password">
            Password
          </label>
          <input
            id="password"
            name="password"
            type="password"
            className="field"
            autoComplete="current-password"
            required
            value={password}
            onChange={(e) => setPassword(e.target.value)}
            aria-invalid={state.message ? true : undefined}
            aria-describedby="sign-in-problem"
          />
        </div>
        {state.needsCode && <CodeField />}
        <p id="sign-in-problem" role="alert" className="min-h-5 text-coral">
          {state.message}
        </p>
        <button type="submit" className="button button-main justify-center" disabled={pending}>
          Sign in
        </button>
      </form>
      {demo && (
        <section aria-label="People of the demo">
          <h2 className="mb-1 text-[13.5px] font-semibold text-ink-2">
            This is the demo. Sign in as one of its people:
          </h2>
          <ul>
            {demo.people.map((p) => (
              <li key={p.login}>
                <button
                  type="button"
                  className="flex w-full items-baseline gap-2 rounded border-b border-line-2 px-2 py-1.5 text-left hover:bg-sea-2"
                  disabled={pending}
                  onClick={() => signInAs(p.login, demo.password)}
                >
                  <b className="whitespace-nowrap font-semibold">{p.name}</b>
                  <span className="truncate text-ink-2">{p.what}</span>
                  <span className="ml-auto text-ink-3">{p.login}</span>
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}
