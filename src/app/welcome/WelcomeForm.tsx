"use client";
import { useEffect } from "react";
import { useRouter } from "next/navigation";
import { useForm } from "react-hook-form";
import { CURRENCIES } from "@/core/shared";
import { firstUseAction } from "./actions";

interface Values {
  code: string;
  name: string;
  currency: string;
  country: string;
  start: string;
  year: string;
  chart: string;
  book: string;
  person: string;
  login: string;
  password: string;
}

/** First use: one page, checked where it is typed and again on the server. */
export function WelcomeForm() {
  const router = useRouter();
  const thisYear = String(new Date().getFullYear());
  const { register, handleSubmit, setError, setValue, setFocus, formState } = useForm<Values>({
    defaultValues: {
      currency: "EUR",
      chart: "starter",
      book: "IFRS",
      year: thisYear,
      start: `${thisYear}-01-01`,
    },
  });
  useEffect(() => setFocus("name"), [setFocus]);
  /** The year is named after its first day until somebody names it. */
  const nameYear = (start: string) => {
    const year = /^(\d{4})-/.exec(start)?.[1];
    if (year && !formState.dirtyFields.year) setValue("year", year);
  };
  const submit = handleSubmit(async (values) => {
    const result = await firstUseAction({ ...values, code: values.code.toUpperCase() }).catch(
      () => null,
    );
    if (!result)
      return setError("root", {
        message: "The server did not answer. What you typed is still here; try again.",
      });
    if (result.ok) return router.push("/sign-in");
    for (const p of result.problems)
      setError((p.field as keyof Values | null) ?? "root", { message: p.message });
  });
  const field = (
    name: keyof Values,
    label: string,
    more: {
      type?: string;
      hint?: string;
      options?: readonly { value: string; text: string }[];
      auto?: string;
      onChange?: (value: string) => void;
    } = {},
  ) => {
    const problem = formState.errors[name]?.message;
    const common = {
      id: name,
      className: "field",
      "aria-invalid": problem ? (true as const) : undefined,
      "aria-describedby": problem ? `${name}-problem` : undefined,
      ...register(name, {
        ...(more.onChange && {
          onChange: (e: { target: { value: string } }) => more.onChange!(e.target.value),
        }),
      }),
    };
    return (
      <div>
        <label className="label label-required" htmlFor={name}>
          {label}
        </label>
        {more.options ? (
          <select {...common}>
            {more.options.map((o) => (
              <option key={o.value} value={o.value}>
                {o.text}
              </option>
            ))}
          </select>
        ) : (
          <input {...common} type={more.type ?? "text"} autoComplete={more.auto ?? "off"} />
        )}
        {problem ? (
          <p id={`${name}-problem`} className="pt-0.5 text-xs text-coral">
            {problem}
          </p>
        ) : (
          more.hint && <p className="pt-0.5 text-xs text-ink-3">{more.hint}</p>
        )}
      </div>
    );
  };
  return (
    <form onSubmit={(e) => void submit(e)} className="grid grid-cols-2 gap-x-5 gap-y-3">
      <h2 className="col-span-2">The company</h2>
      {field("name", "Name")}
      {field("code", "Code", { hint: "Stands in every journal number: ABC-27-00001" })}
      {field("currency", "Functional currency", {
        options: CURRENCIES.map((c) => ({ value: c, text: c })),
      })}
      {field("country", "Country, two letters")}
      {field("start", "First day of the first year", { type: "date", onChange: nameYear })}
      {field("year", "Name of that year")}
      {field("chart", "Chart of accounts", {
        options: [
          { value: "starter", text: "a chart to start from, with statements" },
          { value: "empty", text: "none: I bring my own" },
        ],
      })}
      {field("book", "Accounting basis", {
        hint: "As IFRS or local GAAP; other books can be added later.",
      })}
      <h2 className="col-span-2 mt-2">You, the administrator</h2>
      {field("person", "Your name", { auto: "name" })}
      {field("login", "Sign-in name", { auto: "username" })}
      {field("password", "Password", {
        type: "password",
        auto: "new-password",
        hint: "12 characters or more",
      })}
      <p role="alert" className="col-span-2 min-h-5 text-coral">
        {formState.errors.root?.message}
      </p>
      <div className="col-span-2">
        <button type="submit" className="button button-main" disabled={formState.isSubmitting}>
          Begin
        </button>
      </div>
    </form>
  );
}
