"use client";
import Link from "next/link";
import { useState } from "react";
import { addDays, dateText, readDate } from "@/core/shared";
import { useProposeRun } from "@/app/lib/useProposeRun";
import { useWork } from "@/ui/frame/work";
import { Empty, Page, Problems } from "@/ui/Page";
import { usePrimaryKeys } from "@/ui/usePrimaryKeys";
import { DateField } from "@/ui/date/DateField";
import { FigureField } from "@/ui/FigureField";

interface Bank {
  code: string;
  name: string;
  company: string;
  companyName: string;
  currency: string;
}

const words = (text: string): string[] => text.split(/[\s,;]+/).filter(Boolean);

/** What a payment run is asked for; the rest is decided in its preview. */
export function PaymentRunForm({ banks }: { banks: Bank[] }) {
  const work = useWork();
  const own = [...banks].sort(
    (a, b) => Number(b.company === work.place.company) - Number(a.company === work.place.company),
  );
  const [values, setValues] = useState({
    bank: own[0]?.code ?? "",
    date: dateText(work.today),
    next: dateText(addDays(work.today, 7)),
    method: "",
    suppliers: "",
    currencies: "",
    minimum: "",
    perInvoice: false,
    discountOnPart: "in proportion",
  });
  const { busy, problems, propose: ask } = useProposeRun("payment");
  const set = (change: Partial<typeof values>) => setValues((v) => ({ ...v, ...change }));
  const propose = () => {
    const day = (text: string) => readDate(text, work.today) ?? text;
    void ask({
      ...values,
      date: day(values.date),
      next: day(values.next),
      suppliers: words(values.suppliers),
      currencies: words(values.currencies.toUpperCase()),
    });
  };
  usePrimaryKeys(undefined, propose);
  const at = (field: string) => problems.find((p) => p.field === field)?.message;
  const common = (key: string) => ({
    id: `pay-${key}`,
    "aria-invalid": at(key) ? (true as const) : undefined,
    "aria-describedby": `pay-${key}-hint`,
  });
  const text = (
    key: "date" | "next" | "suppliers" | "currencies" | "minimum",
    label: string,
    hint: string,
    placeholder = "",
  ) => (
    <div>
      <label className="label" htmlFor={`pay-${key}`}>
        {label}
      </label>
      {key === "date" || key === "next" ? (
        <DateField {...common(key)} value={values[key]} onChange={(text) => set({ [key]: text })} />
      ) : key === "minimum" ? (
        <FigureField
          {...common(key)}
          placeholder={placeholder}
          value={values[key]}
          onChange={(minimum) => set({ minimum })}
        />
      ) : (
        <input
          {...common(key)}
          className="field"
          placeholder={placeholder}
          value={values[key]}
          onChange={(e) => set({ [key]: e.target.value })}
        />
      )}
      <p
        id={`pay-${key}-hint`}
        className={`pt-0.5 text-xs ${at(key) ? "text-coral" : "text-ink-3"}`}
      >
        {at(key) ?? hint}
      </p>
    </div>
  );
  const choice = (
    key: "bank" | "method" | "discountOnPart",
    label: string,
    options: readonly (readonly [string, string])[],
    hint: string,
  ) => (
    <div>
      <label className="label" htmlFor={`pay-${key}`}>
        {label}
      </label>
      <select
        id={`pay-${key}`}
        className="field"
        value={values[key]}
        onChange={(e) => set({ [key]: e.target.value })}
      >
        {options.map(([value, word]) => (
          <option key={value} value={value}>
            {word}
          </option>
        ))}
      </select>
      <p className={`pt-0.5 text-xs ${at(key) ? "text-coral" : "text-ink-3"}`}>{at(key) ?? hint}</p>
    </div>
  );
  return (
    <Page
      title="Payment run"
      note={`of ${work.company?.name ?? ""}`}
      actions={
        <button
          type="button"
          className="button button-main"
          disabled={busy || banks.length === 0}
          data-keys="Ctrl Shift Enter=Propose"
          onClick={propose}
        >
          {busy ? "Proposing" : "Propose"} <kbd>Ctrl ⇧ ⏎</kbd>
        </button>
      }
    >
      <Problems
        messages={problems
          .filter(
            (p) =>
              !p.field ||
              !["bank", "date", "next", "suppliers", "currencies", "minimum", "method"].includes(
                p.field,
              ),
          )
          .map((p) => p.message)}
      />
      {banks.length === 0 ? (
        <div className="panel flex flex-1">
          <Empty title="No bank account yet">
            Payments need one to be made from.{" "}
            <Link className="link" href={work.link("/setup/banks")}>
              Set one up
            </Link>
          </Empty>
        </div>
      ) : (
        <form
          className="panel grid max-w-3xl grid-cols-2 gap-x-5 gap-y-3 p-4"
          onSubmit={(e) => {
            e.preventDefault();
            propose();
          }}
        >
          {choice(
            "bank",
            "From",
            own.map(
              (b) =>
                [
                  b.code,
                  `${b.code} ${b.name}, ${b.currency}${b.company === work.place.company ? "" : ` (${b.companyName} pays for us)`}`,
                ] as const,
            ),
            "What it holds and its limit are checked in the preview.",
          )}
          {choice(
            "method",
            "How",
            [
              ["", "each supplier in its own way"],
              ["transfer", "transfers only"],
              ["cheque", "cheques only"],
              ["manual", "manual payments only"],
            ],
            "Suppliers say how they are paid.",
          )}
          {text("date", "Payment date", "Discounts are earned and rates taken on this day.")}
          {text("next", "The next run is on", "Everything that falls due before it is paid now.")}
          {text(
            "suppliers",
            "Only these suppliers",
            "Numbers, apart by spaces. Empty: all.",
            "S-103 S-115",
          )}
          {text("currencies", "Only these currencies", "Codes of ISO 4217. Empty: all.", "EUR")}
          {text(
            "minimum",
            `Least payment, ${work.company?.currency ?? ""}`,
            "What would be smaller waits.",
            "0.00",
          )}
          {choice(
            "discountOnPart",
            "Discount on a part payment",
            [
              ["in proportion", "in proportion to the part"],
              ["none", "none"],
            ],
            "Where less is paid than settles an item.",
          )}
          <label className="col-span-2 flex items-center gap-2">
            <input
              type="checkbox"
              checked={values.perInvoice}
              onChange={(e) => set({ perInvoice: e.target.checked })}
            />
            A payment for each invoice, instead of one for each supplier
          </label>
          <button type="submit" className="sr-only">
            Propose
          </button>
        </form>
      )}
    </Page>
  );
}
