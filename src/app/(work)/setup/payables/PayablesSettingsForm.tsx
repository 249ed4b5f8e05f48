"use client";
import type { PayablesSettings } from "@/server/payables";
import { FieldForm } from "@/app/lib/FieldForm";
import { Page } from "@/ui/Page";
import { saveRecordAction } from "../actions";

const OWNERS = [
  { value: "owing", text: "the company that owes the supplier" },
  { value: "paying", text: "the company that pays" },
];

/** Who gets what where one company pays for another, and how much a clerk may write off at once. */
export const PayablesSettingsForm = ({
  start,
  mayChange,
}: {
  start: PayablesSettings;
  mayChange: boolean;
}) => (
  <Page title="Payables settings">
    <FieldForm
      name="payables"
      className="max-w-xl"
      mayChange={mayChange}
      fields={[
        {
          key: "discountTo",
          label: "Where one company pays for another, the discount goes to",
          kind: "select",
          options: OWNERS,
        },
        {
          key: "differenceTo",
          label: "and the exchange difference to",
          kind: "select",
          options: OWNERS,
          hint: "The exchange difference can only go to the paying company where both keep their books in the same currency.",
        },
        {
          key: "discountOn",
          label: "Discounts of terms are a per cent of",
          kind: "select",
          options: [
            { value: "invoice total", text: "the invoice total, withheld tax included" },
            { value: "net", text: "the net amount" },
            { value: "amount payable", text: "the amount payable, without withheld tax" },
          ],
        },
        {
          key: "purposeCountries",
          label: "Countries whose banks ask what each transfer is for",
          kind: "text",
          placeholder: "AE IN",
          hint: "A supplier there needs a purpose of its own before it is paid.",
        },
        {
          key: "cleanUpLimit",
          label: "A payables clerk may write off in one clean-up, at most",
          kind: "figure",
        },
      ]}
      start={{ ...start }}
      button="Save"
      main
      job={(values) => saveRecordAction("payables", values)}
      done="Saved."
    />
  </Page>
);
