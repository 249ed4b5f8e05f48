"use client";
import type { ReceivablesSettings } from "@/server/receivables";
import { FieldForm } from "@/app/lib/FieldForm";
import { Page } from "@/ui/Page";
import { saveRecordAction } from "../actions";

/** What happens where a customer would owe more than its limit. */
export const ReceivablesSettingsForm = ({
  start,
  mayChange,
}: {
  start: ReceivablesSettings;
  mayChange: boolean;
}) => (
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
      ]}
      start={{ ...start }}
      button="Save"
      main
      job={(values) => saveRecordAction("receivables", values)}
      done="Saved."
    />
  </Page>
);
