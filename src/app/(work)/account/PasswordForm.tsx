"use client";
import { useState } from "react";
import { toast } from "sonner";
import { Problems } from "@/ui/Page";
import { saveRecordAction } from "../setup/actions";

export function PasswordForm() {
  const [current, setCurrent] = useState("");
  const [password, setPassword] = useState("");
  const [again, setAgain] = useState("");
  const [messages, setMessages] = useState<string[]>([]);
  const save = async () => {
    if (password !== again) return setMessages(["The new password was not typed the same twice."]);
    const result = await saveRecordAction("password", { current, password }).catch(() => null);
    if (!result) return setMessages(["The server did not answer. Try again."]);
    if (!result.ok) return setMessages(result.problems.map((p) => p.message));
    setMessages([]);
    setCurrent("");
    setPassword("");
    setAgain("");
    toast.success(
      "Your password is changed. Your other sign-ins and tokens of programs have ended.",
    );
  };
  const field = (
    id: string,
    label: string,
    value: string,
    set: (v: string) => void,
    complete: string,
  ) => (
    <div>
      <label className="label" htmlFor={id}>
        {label}
      </label>
      <input
        id={id}
        type="password"
        className="field"
        autoComplete={complete}
        value={value}
        onChange={(e) => set(e.target.value)}
        required
      />
    </div>
  );
  return (
    <form
      className="panel grid gap-3 p-4"
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}
    >
      <Problems messages={messages} />
      {field("current", "Password now", current, setCurrent, "current-password")}
      {field("new", "New password, 12 characters or more", password, setPassword, "new-password")}
      {field("again", "The new one again", again, setAgain, "new-password")}
      <div>
        <button type="submit" className="button button-main">
          Change password
        </button>
      </div>
    </form>
  );
}
