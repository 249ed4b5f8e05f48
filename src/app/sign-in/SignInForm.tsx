"use client";
import { useActionState, useState } from "react";
import { CodeField } from "@/ui/CodeField";
import { signInAction } from "./actions";

export function SignInForm({ to }: { to: string }) {
  const [state, action, pending] = useActionState(signInAction, {
    message: null,
    login: "",
    needsCode: false,
  });
  // Held here, so that it stays while the code is asked for.
  const [password, setPassword] = useState("");
  return (
    <form action={action} className="grid gap-3">
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
  );
}
