"use client";
import { useMemo, type ReactNode } from "react";
import { CURRENCIES, dateText, readDate } from "@/core/shared";
import { Field } from "@/ui/Field";
import { FigureField } from "@/ui/FigureField";
import { DateField } from "@/ui/date/DateField";
import { useWork } from "@/ui/frame/work";
import type { Named } from "./paperGrid";

/** What the head of every trade document says. */
export interface PaperHeadValues {
  company: string;
  date: string;
  postingDate: string;
  dueDate: string;
  terms: string;
  currency: string | null;
  rate: string;
  description: string;
  withholding: string;
  taxPeriod: string;
  rounding: "line" | "total";
  gross: boolean;
}

interface Props {
  values: PaperHeadValues;
  set<K extends keyof PaperHeadValues>(key: K, value: PaperHeadValues[K]): void;
  /** What stands against a field. */
  at: (field: string) => string | undefined;
  currency: string;
  functional: string;
  terms: readonly Named[];
  withheld: readonly Named[];
  /** The partner's own terms in words. */
  usualTerms: string;
  /** Whether the period of its taxes is another than that of its day. */
  taxNote: string;
  /** Fields of its kind behind the dates. */
  behindDates?: ReactNode;
}

/** The fields that the head of every trade document has, whoever buys. */
export function PaperHead(props: Props) {
  const { values, set, at, currency, functional } = props;
  return (
    <>
      <DayField id="i-date" name="date" label="Invoice date" required {...props} />
      <DayField
        id="i-posting"
        name="postingDate"
        label="Journal date"
        placeholder="the same"
        {...props}
      />
      {props.behindDates}
      <Field id="i-currency" label="Currency" problem={at("currency") ?? at("rate")} width="w-20">
        {(p) => (
          <select
            {...p}
            className="field"
            value={currency}
            onChange={(e) => set("currency", e.target.value === functional ? null : e.target.value)}
          >
            {CURRENCIES.map((c) => (
              <option key={c}>{c}</option>
            ))}
          </select>
        )}
      </Field>
      <TaxPeriodField {...props} />
      {currency !== functional && (
        <Field id="i-rate" label="Rate" problem={at("rate")} width="w-24">
          {(p) => (
            <FigureField
              {...p}
              className="field text-right"
              placeholder="of the day"
              title={`${functional} for one ${currency}`}
              value={values.rate}
              onChange={(rate) => set("rate", rate)}
            />
          )}
        </Field>
      )}
      <Choice
        id="i-terms"
        name="terms"
        label="Terms"
        width="w-36"
        none={props.usualTerms}
        options={props.terms}
        {...props}
      />
      <DayField id="i-due" name="dueDate" label="Due on" placeholder="by the terms" {...props} />
      <Field
        id="i-description"
        label="Description"
        problem={at("description")}
        width="min-w-40 flex-1"
      >
        {(p) => (
          <input
            {...p}
            className="field"
            value={values.description}
            onChange={(e) => set("description", e.target.value)}
          />
        )}
      </Field>
      {props.withheld.length > 0 && (
        <Choice
          id="i-withholding"
          name="withholding"
          label="Kept back"
          width="w-32"
          none="nothing"
          options={props.withheld}
          {...props}
        />
      )}
      <Field id="i-amounts" label="Amounts are" width="w-36">
        {(p) => (
          <select
            {...p}
            className="field"
            value={values.gross ? "gross" : values.rounding}
            onChange={(e) => {
              set("gross", e.target.value === "gross");
              set("rounding", e.target.value === "total" ? "total" : "line");
            }}
          >
            <option value="line">net, tax by line</option>
            <option value="total">net, tax in total</option>
            <option value="gross">with their tax</option>
          </select>
        )}
      </Field>
    </>
  );
}

function DayField({
  id,
  name,
  label,
  required = false,
  placeholder,
  values,
  set,
  at,
}: Props & {
  id: string;
  name: "date" | "postingDate" | "dueDate";
  label: string;
  required?: boolean;
  placeholder?: string;
}) {
  const { today } = useWork();
  const tidy = (text: string) => {
    const read = readDate(text, today);
    if (read) set(name, dateText(read));
  };
  return (
    <Field id={id} label={label} required={required} problem={at(name)} width="w-28">
      {(p) => (
        <DateField
          {...p}
          {...(placeholder ? { placeholder } : {})}
          value={values[name]}
          onChange={(text) => set(name, text)}
          onBlur={(e: { target: { value: string } }) => tidy(e.target.value)}
        />
      )}
    </Field>
  );
}

function Choice({
  id,
  name,
  label,
  width,
  none,
  options,
  values,
  set,
  at,
}: Props & {
  id: string;
  name: "terms" | "withholding";
  label: string;
  width: string;
  none: string;
  options: readonly Named[];
}) {
  return (
    <Field id={id} label={label} problem={at(name)} width={width}>
      {(p) => (
        <select
          {...p}
          className="field"
          value={values[name]}
          onChange={(e) => set(name, e.target.value)}
        >
          <option value="">{none}</option>
          {options.map((t) => (
            <option key={t.code} value={t.code}>
              {t.name}
            </option>
          ))}
        </select>
      )}
    </Field>
  );
}

/** In sight only where the taxes are not reported in the period of the paper's day. */
function TaxPeriodField({ values, set, at, taxNote }: Props) {
  const work = useWork();
  const { date, company, taxPeriod } = values;
  const periods = useMemo(() => {
    const day = readDate(date, work.today) ?? "";
    const own = work.companies.find((c) => c.code === company)?.periods ?? [];
    return own.filter((p) => !p.adjustment && p.end >= day);
  }, [date, company, work.companies, work.today]);
  if (!taxPeriod && !taxNote && !at("taxPeriod")) return null;
  return (
    <Field id="i-tax-period" label="Tax period" problem={at("taxPeriod")} width="w-40">
      {(p) => (
        <select
          {...p}
          className="field"
          value={taxPeriod}
          onChange={(e) => set("taxPeriod", e.target.value)}
        >
          <option value="">First that takes it</option>
          {periods.map((q) => (
            <option key={q.key} value={q.key}>
              {q.name} {q.year}
            </option>
          ))}
        </select>
      )}
    </Field>
  );
}
