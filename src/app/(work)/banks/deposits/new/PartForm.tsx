"use client";
import { useEffect, useState } from "react";
import { DEPOSIT_KIND_NAMES, DEPOSIT_KINDS, isDraft, type DepositKind } from "@/core/banks";
import { amountText, minor, readAmount, readDate } from "@/core/shared";
import type { CustomersItem, PartnerChoice } from "@/server/banks";
import { DateField } from "@/ui/date/DateField";
import { FigureField } from "@/ui/FigureField";
import { useWork } from "@/ui/frame/work";
import { PanelFrame } from "@/ui/panel/PanelFrame";
import { shownAmount, shownDate } from "@/ui/writing";
import { partnersForLineAction } from "../../lines/actions";
import { useFound } from "../../lines/useFound";
import { customersItemsAction } from "../actions";

/** A part of a slip as it was written, with what people see of it. */
export interface WrittenPart {
  kind: DepositKind;
  partner: string;
  payer: string;
  cheque: string;
  /** When a bill or note is due; "" for what is paid at sight. What of it is a fee. */
  dueDate: string;
  fee: string;
  feeKind: string;
  amount: string;
  items: number[];
  pays: string[];
}

/** What the number of each kind is of. */
const NUMBERS: Partial<Record<DepositKind, string>> = {
  cheque: "Number of the cheque",
  card: "Number of the transaction",
};

/** One cheque, or the cash of one customer: whose it is, what it pays, how much. */
export function PartForm({
  company,
  currency,
  taken,
  kinds,
  onAdd,
}: {
  company: string;
  currency: string;
  /** Items that another part of the slip pays already. */
  taken: ReadonlySet<number>;
  /** Kinds of movement as which a fee can be posted. */
  kinds: readonly { code: string; name: string }[];
  onAdd: (part: WrittenPart) => void;
}) {
  const [kind, setKind] = useState<DepositKind>("cheque");
  const [text, setText] = useState("");
  const [partner, setPartner] = useState<PartnerChoice | null>(null);
  const [cheque, setCheque] = useState("");
  const [chosen, setChosen] = useState<readonly CustomersItem[]>([]);
  const [due, setDue] = useState("");
  const [fee, setFee] = useState("");
  const [feeKind, setFeeKind] = useState(kinds[0]?.code ?? "");
  const [typed, setTyped] = useState<string | null>(null);
  const work = useWork();
  const [said, setSaid] = useState("");
  const { found } = useFound<PartnerChoice>(() => partnersForLineAction(text), text);
  const items = useCustomersItems(company, partner?.code ?? "", currency);
  const sum = minor(chosen.reduce((t, i) => t + i.left, 0n));
  const draft = isDraft(kind);
  const hasFee = draft || kind === "card";
  const extra = hasFee ? readAmount(fee, currency) : null;
  // What is kept of a card payment is within what the customer paid.
  const whole = minor(sum + (draft && extra?.ok ? extra.amount : 0n));
  const amount = typed ?? (sum === 0n ? "" : amountText(whole, currency));
  const toggle = (item: CustomersItem) =>
    setChosen(
      chosen.some((c) => c.id === item.id)
        ? chosen.filter((c) => c.id !== item.id)
        : [...chosen, item],
    );
  const add = () => {
    const read = readAmount(amount, currency);
    if (!partner) return setSaid("Say whose money it is.");
    if (kind !== "cash" && cheque.trim() === "") return setSaid("Its number is missing.");
    const dueDate = draft ? readDate(due, work.today) : "";
    if (dueDate === null) return setSaid("The day on which it is due is missing.");
    if (hasFee && fee.trim() !== "" && !extra?.ok) return setSaid("The fee is no amount.");
    if (!read.ok || read.amount <= 0n) return setSaid("The amount is missing.");
    onAdd({
      kind,
      partner: partner.code,
      payer: partner.name,
      cheque: kind === "cash" ? "" : cheque.trim(),
      dueDate,
      fee: hasFee ? fee.trim() : "",
      feeKind: hasFee && fee.trim() !== "" ? feeKind : "",
      amount,
      items: chosen.map((c) => c.id),
      pays: chosen.map((c) => c.reference),
    });
  };
  return (
    <PanelFrame
      label="What goes on the slip"
      name="form"
      width={340}
      data-keys="Enter=Add to the slip"
    >
      <form
        className="flex min-h-0 flex-1 flex-col gap-2.5 overflow-y-auto px-4 py-3.5"
        noValidate
        onSubmit={(e) => {
          e.preventDefault();
          add();
        }}
      >
        <h2>What goes on the slip</h2>
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
            onChange={(e) => setKind(e.target.value as DepositKind)}
          >
            {DEPOSIT_KINDS.map((k) => (
              <option key={k} value={k}>
                {DEPOSIT_KIND_NAMES[k]}
              </option>
            ))}
          </select>
        </div>
        {kind !== "cash" && (
          <div>
            <label className="label label-required" htmlFor="part-cheque">
              {NUMBERS[kind] ?? "Number"}
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
        {hasFee && (
          <div className="grid grid-cols-2 gap-2">
            {draft && (
              <div>
                <label className="label label-required" htmlFor="part-due">
                  Due
                </label>
                <DateField id="part-due" value={due} onChange={setDue} />
              </div>
            )}
            <div>
              <label className="label" htmlFor="part-fee">
                {draft ? "Fee within it" : "Kept as a fee"}, {currency}
              </label>
              <FigureField
                id="part-fee"
                className="field text-right"
                value={fee}
                onChange={setFee}
              />
            </div>
            {fee.trim() !== "" && (
              <div className="col-span-2">
                <label className="label" htmlFor="part-fee-kind">
                  Fee posted as
                </label>
                <select
                  id="part-fee-kind"
                  className="field"
                  value={feeKind}
                  onChange={(e) => setFeeKind(e.target.value)}
                >
                  {kinds.map((k) => (
                    <option key={k.code} value={k.code}>
                      {k.name}
                    </option>
                  ))}
                </select>
              </div>
            )}
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
