"use client";
import Link from "next/link";
import { addDays } from "@/core/shared";
import { FieldForm } from "@/app/lib/FieldForm";
import { useRunForm } from "@/app/lib/useProposeRun";
import type { Option, RecordField } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { Empty, Page } from "@/ui/Page";

interface Bank {
  code: string;
  name: string;
  company: string;
  companyName: string;
  currency: string;
}

const words = (text: unknown): string[] =>
  String(text)
    .split(/[\s,;]+/)
    .filter(Boolean);

const METHODS: Option[] = [
  { value: "", text: "each supplier in its own way" },
  { value: "transfer", text: "transfers only" },
  { value: "cheque", text: "cheques only" },
  { value: "manual", text: "manual payments only" },
];

const fieldsOf = (banks: Option[], currency: string): RecordField[] => [
  {
    key: "bank",
    label: "Bank account",
    kind: "select",
    options: banks,
    hint: "What it holds and its limit are checked in the preview.",
  },
  {
    key: "method",
    label: "Payment method",
    kind: "select",
    options: METHODS,
    hint: "Suppliers say how they are paid.",
  },
  {
    key: "date",
    label: "Payment date",
    kind: "date",
    hint: "Discounts are earned and rates taken on this day.",
  },
  {
    key: "next",
    label: "Next payment run",
    kind: "date",
    hint: "Everything that falls due before it is paid now.",
  },
  {
    key: "suppliers",
    label: "Suppliers",
    kind: "text",
    placeholder: "S-103 S-115",
    hint: "Numbers, separated by spaces. Empty: all suppliers.",
  },
  {
    key: "currencies",
    label: "Currencies",
    kind: "text",
    placeholder: "EUR",
    hint: "ISO 4217 codes. Empty: all currencies.",
  },
  {
    key: "minimum",
    label: `Minimum payment, ${currency}`,
    kind: "figure",
    placeholder: "0.00",
    hint: "Smaller payments wait for a later run.",
  },
  {
    key: "discountOnPart",
    label: "Discount on a part payment",
    kind: "select",
    options: [
      { value: "in proportion", text: "in proportion to the part" },
      { value: "none", text: "none" },
    ],
    hint: "Where an item is paid in part.",
  },
  {
    key: "perInvoice",
    label: "A payment for each invoice, instead of one for each supplier",
    kind: "check",
    wide: true,
  },
];

/** What a payment run is asked for; the rest is decided in its preview. */
export function PaymentRunForm({ banks }: { banks: Bank[] }) {
  const work = useWork();
  const { propose, open } = useRunForm("payment");
  const isOwn = (b: Bank) => b.company === work.place.company;
  const own = [...banks].sort((a, b) => Number(isOwn(b)) - Number(isOwn(a)));
  const options = own.map((b) => ({
    value: b.code,
    text: `${b.code} ${b.name}, ${b.currency}${isOwn(b) ? "" : ` (${b.companyName} pays for us)`}`,
  }));
  return (
    <Page title="Payment run" note={`of ${work.company?.name ?? ""}`}>
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
        <FieldForm
          name="pay"
          className="max-w-3xl"
          columns={2}
          fields={fieldsOf(options, work.company?.currency ?? "")}
          start={{
            bank: options[0]?.value ?? "",
            method: "",
            date: work.today,
            next: addDays(work.today, 7),
            suppliers: "",
            currencies: "",
            minimum: "",
            discountOnPart: "in proportion",
            perInvoice: false,
          }}
          button="Propose"
          main
          job={(values) =>
            propose({
              ...values,
              suppliers: words(values.suppliers),
              currencies: words(String(values.currencies).toUpperCase()),
            })
          }
          then={open}
        />
      )}
    </Page>
  );
}
