"use client";
import { useEffect, useState } from "react";
import { amountText, minor, readAmount } from "@/core/shared";
import type { CustomersItem, PartnerChoice } from "@/server/banks";
import { FigureField } from "@/ui/FigureField";
import { PanelFrame } from "@/ui/panel/PanelFrame";
import { shownAmount, shownDate } from "@/ui/writing";
import { partnersForLineAction } from "../../lines/actions";
import { useFound } from "../../lines/useFound";
import { customersItemsAction } from "../actions";

/** A part of a slip as it was written, with what people see of it. */
export interface WrittenPart {
  kind: "cheque" | "cash";
  partner: string;
  payer: string;
  cheque: string;
  amount: string;
  items: number[];
  pays: string[];
}

/** One cheque, or the cash of one customer: whose it is, what it pays, how much. */
export function PartForm({
  company,
  currency,
  taken,
  onAdd,
}: {
  company: string;
  currency: string;
  /** Items that another part of the slip pays already. */
  taken: ReadonlySet<number>;
  onAdd: (part: WrittenPart) => void;
}) {
  const [kind, setKind] = useState<"cheque" | "cash">("cheque");
  const [text, setText] = useState("");
  const [partner, setPartner] = useState<PartnerChoice | null>(null);
  const [cheque, setCheque] = useState("");
  const [chosen, setChosen] = useState<readonly CustomersItem[]>([]);
  const [typed, setTyped] = useState<string | null>(null);
  const [said, setSaid] = useState("");
  const { found } = useFound<PartnerChoice>(() => partnersForLineAction(text), text);
  const items = useCustomersItems(company, partner?.code ?? "", currency);
  const sum = minor(chosen.reduce((t, i) => t + i.left, 0n));
  const amount = typed ?? (sum === 0n ? "" : amountText(sum, currency));
  const toggle = (item: CustomersItem) =>
    setChosen(
      chosen.some((c) => c.id === item.id)
        ? chosen.filter((c) => c.id !== item.id)
        : [...chosen, item],
    );
  const add = () => {
    const read = readAmount(amount, currency);
    if (!partner) return setSaid("Say whose money it is.");
    if (kind === "cheque" && cheque.trim() === "")
      return setSaid("The number of the cheque is missing.");
    if (!read.ok || read.amount <= 0n) return setSaid("The amount is missing.");
    onAdd({
      kind,
      partner: partner.code,
      payer: partner.name,
      cheque: kind === "cheque" ? cheque.trim() : "",
      amount,
      items: chosen.map((c) => c.id),
      pays: chosen.map((c) => c.reference),
    });
  };
  return (
    <PanelFrame label="Cheque or cash" name="form" width={340} data-keys="Enter=Add to the slip">
      <form
        className="flex min-h-0 flex-1 flex-col gap-2.5 overflow-y-auto px-4 py-3.5"
        noValidate
        onSubmit={(e) => {
          e.preventDefault();
          add();
        }}
      >
        <h2>Cheque or cash</h2>
        {said && (
          <p role="alert" className="text-xs text-coral">
            {said}
          </p>
        )}
        <div>
          <label className="label label-required" htmlFor="part-partner">
            Customer
          </label>
          <input
            id="part-partner"
            className="field"
            autoFocus
            autoComplete="off"
            placeholder="Code or name"
            value={partner ? partner.name : text}
            onChange={(e) => {
              setPartner(null);
              setChosen([]);
              setText(e.target.value);
            }}
          />
          {!partner && text !== "" && (
            <ul aria-label="Customers" className="max-h-40 overflow-y-auto">
              {found
                ?.filter((p) => p.customer)
                .map((p) => (
                  <li key={p.code} className="border-b border-line">
                    <button
                      type="button"
                      className="w-full truncate px-1 py-1 text-left text-[12.5px] hover:bg-shade"
                      onClick={() => setPartner(p)}
                    >
                      <b className="font-semibold">{p.code}</b> {p.name}
                    </button>
                  </li>
                ))}
              {found?.every((p) => !p.customer) && (
                <li className="text-ink-2">No customer is called that.</li>
              )}
            </ul>
          )}
        </div>
        <div>
          <label className="label" htmlFor="part-kind">
            Kind
          </label>
          <select
            id="part-kind"
            className="field"
            value={kind}
            onChange={(e) => setKind(e.target.value === "cash" ? "cash" : "cheque")}
          >
            <option value="cheque">Cheque</option>
            <option value="cash">Cash</option>
          </select>
        </div>
        {kind === "cheque" && (
          <div>
            <label className="label label-required" htmlFor="part-cheque">
              Number of the cheque
            </label>
            <input
              id="part-cheque"
              className="field"
              maxLength={20}
              value={cheque}
              onChange={(e) => setCheque(e.target.value)}
            />
          </div>
        )}
        {partner && (
          <ul aria-label="Open items" className="max-h-60 overflow-y-auto">
            {items
              ?.filter((i) => !taken.has(i.id))
              .map((i) => (
                <li
                  key={i.id}
                  className="flex items-center gap-2 border-t border-line py-1 text-[12.5px]"
                >
                  <input
                    type="checkbox"
                    aria-label={`Pays ${i.reference}`}
                    checked={chosen.some((c) => c.id === i.id)}
                    onChange={() => toggle(i)}
                  />
                  <span className="min-w-0 flex-1 truncate">
                    {i.reference}, due {shownDate(i.due)}
                  </span>
                  <span className="figure-text">{shownAmount(i.left, currency)}</span>
                </li>
              ))}
            {items?.length === 0 && (
              <li className="text-ink-2">Nothing is open; it stays on account.</li>
            )}
          </ul>
        )}
        <div>
          <label className="label label-required" htmlFor="part-amount">
            Amount, {currency}
          </label>
          <FigureField
            id="part-amount"
            className="field text-right"
            value={amount}
            onChange={setTyped}
          />
        </div>
        <button type="submit" className="button self-start">
          Add to the slip
        </button>
      </form>
    </PanelFrame>
  );
}

/** The open items of a customer; null while they are fetched. */
function useCustomersItems(
  company: string,
  partner: string,
  currency: string,
): readonly CustomersItem[] | null {
  const [items, setItems] = useState<readonly CustomersItem[] | null>(null);
  useEffect(() => {
    let isLatest = true;
    if (partner === "") return;
    void customersItemsAction({ company, partner, currency }).then(
      (result) => isLatest && setItems(result.ok ? result.value : []),
      () => isLatest && setItems([]),
    );
    return () => {
      isLatest = false;
    };
  }, [company, partner, currency]);
  return partner === "" ? null : items;
}
