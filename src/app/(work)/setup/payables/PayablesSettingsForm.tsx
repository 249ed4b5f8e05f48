"use client";
import { useState } from "react";
import type { PayablesSettings } from "@/server/payables";
import { useAct } from "@/app/lib/useAct";
import { Page, Problems } from "@/ui/Page";
import { saveRecordAction } from "../actions";
import { FigureField } from "@/ui/FigureField";

/** Who gets what where one company pays for another, and how much a clerk may write off at once. */
export function PayablesSettingsForm({
  start,
  mayChange,
}: {
  start: PayablesSettings;
  mayChange: boolean;
}) {
  const { busy, messages, act } = useAct();
  const [values, setValues] = useState(start);
  const to = (key: "discountTo" | "differenceTo", label: string) => (
    <div>
      <label className="label" htmlFor={key}>
        {label}
      </label>
      <select
        id={key}
        className="field"
        disabled={!mayChange}
        value={values[key]}
        onChange={(e) =>
          setValues({ ...values, [key]: e.target.value as PayablesSettings["discountTo"] })
        }
      >
        <option value="owing">the company that owes the supplier</option>
        <option value="paying">the company that pays</option>
      </select>
    </div>
  );
  return (
    <Page title="Rules of payables">
      <Problems messages={messages} />
      <form
        className="panel grid max-w-xl gap-3 p-4"
        onSubmit={(e) => {
          e.preventDefault();
          void act(() => saveRecordAction("payables", values), "Saved.");
        }}
      >
        {to("discountTo", "Where one company pays for another, the discount goes to")}
        {to("differenceTo", "and the exchange difference to")}
        <p className="text-xs text-ink-3">
          The exchange difference can only go to the paying company where both keep their books in
          the same currency.
        </p>
        <div>
          <label className="label" htmlFor="discountOn">
            Discounts of terms are a per cent of
          </label>
          <select
            id="discountOn"
            className="field"
            disabled={!mayChange}
            value={values.discountOn}
            onChange={(e) =>
              setValues({
                ...values,
                discountOn: e.target.value as PayablesSettings["discountOn"],
              })
            }
          >
            <option value="invoice total">the invoice total, withheld tax included</option>
            <option value="net">the net amount</option>
            <option value="amount payable">the amount payable, without withheld tax</option>
          </select>
        </div>
        <div>
          <label className="label" htmlFor="cleanUpLimit">
            A payables clerk may write off in one clean-up, at most
          </label>
          <FigureField
            id="cleanUpLimit"
            className="field w-40 text-right"
            readOnly={!mayChange}
            value={values.cleanUpLimit}
            onChange={(cleanUpLimit) => setValues({ ...values, cleanUpLimit })}
          />
        </div>
        {mayChange && (
          <button type="submit" className="button button-main justify-self-start" disabled={busy}>
            Save
          </button>
        )}
      </form>
    </Page>
  );
}
