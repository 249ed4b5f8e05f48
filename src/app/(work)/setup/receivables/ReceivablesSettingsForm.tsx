"use client";
import { DEFERRAL_METHOD_NAMES, DEFERRAL_METHODS, type LateRate } from "@/core/receivables";
import { dateText, readDate, type CalendarDate } from "@/core/shared";
import type { ReceivablesSettings } from "@/server/receivables";
import { FieldForm } from "@/app/lib/FieldForm";
import type { RecordField } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { Page } from "@/ui/Page";
import { saveRecordAction } from "../actions";

const ratesText = (rates: readonly LateRate[]): string =>
  rates.map((r) => `${dateText(r.from)} ${r.percent}`).join("\n");

/** Each line as a day and a rate; what is no day or rate is left for the server to refuse. */
const readRates = (text: string, today: CalendarDate) =>
  text
    .split("\n")
    .map((line) => line.trim())
    .filter((line) => line !== "")
    .map((line) => {
      const at = line.lastIndexOf(" ");
      const day = line.slice(0, at).trim();
      return {
        from: readDate(day, today) ?? day,
        percent: line
          .slice(at + 1)
          .replace(",", ".")
          .replace("%", ""),
      };
    });

/** What happens where a customer would owe more than its limit. */
export function ReceivablesSettingsForm({
  start,
  rates,
  dimensions,
  mayChange,
}: {
  start: ReceivablesSettings;
  rates: readonly LateRate[];
  dimensions: readonly { code: string; name: string }[];
  mayChange: boolean;
}) {
  const work = useWork();
  const { lossDimensions, ...others } = start;
  return (
    <Page title="Receivables settings">
      <FieldForm
        name="receivables"
        className="max-w-xl"
        mayChange={mayChange}
        fields={[
          {
            key: "creditRule",
            label: "An invoice that goes over its customer’s credit limit",
            kind: "select",
            options: [
              { value: "warn", text: "is pointed out and can be posted" },
              { value: "refuse", text: "is refused" },
            ],
          },
          {
            key: "creditDays",
            label: "Agreements count for the limit, days ahead",
            kind: "text",
            required: true,
            hint: "With what is open; 0 where they do not count.",
          },
          {
            key: "feeAccount",
            label: "Account of reminder fees",
            kind: "text",
            hint: "Where they are posted as invoices.",
          },
          { key: "interestAccount", label: "Account of interest on late payment", kind: "text" },
          { key: "chargeTax", label: "Tax code of both", kind: "text" },
          {
            key: "deferralAccount",
            label: "Account of deferred revenue",
            kind: "text",
            hint: "Where what is invoiced ahead waits until it is earned.",
          },
          {
            key: "deferralMethod",
            label: "Deferred revenue is earned",
            kind: "select",
            options: DEFERRAL_METHODS.map((m) => ({ value: m, text: DEFERRAL_METHOD_NAMES[m] })),
          },
          {
            key: "prepaymentAccount",
            label: "Account of prepayments",
            kind: "text",
            hint: "Where what customers are asked for ahead waits until it is set off.",
          },
          ...dimensions.map((d): RecordField => ({
            key: `loss.${d.code}`,
            label: `${d.name} of bad debts`,
            kind: "text",
          })),
          {
            key: "rates",
            label: "Interest on late payment: from which day, and per cent a year, a line each",
            kind: "lines",
            placeholder: "01/07/2026 10.15",
          },
        ]}
        start={{
          ...others,
          creditDays: String(others.creditDays),
          rates: ratesText(rates),
          ...Object.fromEntries(
            dimensions.map((d) => [`loss.${d.code}`, lossDimensions[d.code] ?? ""]),
          ),
        }}
        button="Save"
        main
        job={async ({ rates: text, ...values }) => {
          const written = await saveRecordAction("lateRates", {
            rates: readRates(String(text), work.today),
          });
          if (!written.ok)
            return {
              ...written,
              problems: written.problems.map((p) => ({ ...p, field: "rates" })),
            };
          return saveRecordAction("receivables", {
            ...values,
            lossDimensions: Object.fromEntries(
              dimensions.map((d) => [d.code, String(values[`loss.${d.code}`] ?? "").trim()]),
            ),
          });
        }}
        done="Saved."
      />
    </Page>
  );
}
