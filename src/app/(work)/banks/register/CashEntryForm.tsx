"use client";
import type { BankCodings, BankRegister, MovementKind } from "@/server/banks";
import { useWork } from "@/ui/frame/work";
import { SidePanel } from "@/ui/panel/SidePanel";
import { FieldForm } from "@/app/lib/FieldForm";
import { bookCashAction } from "../actions";
import {
  codingFields,
  codingKeys,
  codingOf,
  codingValues,
  derivesShortcut,
} from "../coding/codingFields";
import type { RegisterAccount } from "./RegisterView";

/** Writes what was put into a cash box or taken out of it, and what it was for. */
export function CashEntryForm({
  box,
  accounts,
  kinds,
  codings,
  onClose,
}: {
  box: BankRegister;
  accounts: RegisterAccount[];
  kinds: MovementKind[];
  codings: BankCodings;
  onClose: () => void;
}) {
  const work = useWork();
  const banks = accounts.filter((a) => a.kind !== "cash" && a.currency === box.currency);
  return (
    <SidePanel title={`Entry of ${box.code}`} width={340} onClose={onClose}>
      <FieldForm
        name="cash"
        fields={[
          { key: "date", label: "Date", kind: "date", required: true },
          {
            key: "side",
            label: "Direction",
            kind: "select",
            options: [
              { value: "out", text: "Taken out" },
              { value: "in", text: "Put in" },
            ],
          },
          { key: "amount", label: `Amount, ${box.currency}`, kind: "figure", required: true },
          { key: "text", label: "What it was for", kind: "text", required: true },
          { key: "payee", label: "Who got or gave it", kind: "text" },
          {
            key: "is",
            label: "Posted to",
            kind: "select",
            options: [
              { value: "coding", text: "An account" },
              { value: "kind", text: "As a kind of movement says" },
              ...(banks.length > 0
                ? [{ value: "bank", text: "Money under way to or from a bank" }]
                : []),
            ],
          },
          ...codingFields(codings),
          {
            key: "kind",
            label: "Kind of movement",
            kind: "select",
            options: kinds.map((k) => ({ value: k.code, text: k.name })),
          },
          {
            key: "other",
            label: "Bank account",
            kind: "select",
            options: banks.map((b) => ({ value: String(b.id), text: `${b.code} ${b.name}` })),
            hint: "The line of its statement will meet it.",
          },
        ]}
        start={{
          date: work.today,
          side: "out",
          amount: "",
          text: "",
          payee: "",
          is: "coding",
          ...codingValues(codings, null),
          kind: kinds[0]?.code ?? "",
          other: String(banks[0]?.id ?? ""),
        }}
        shows={(v) => [
          ...["date", "side", "amount", "text", "payee", "is"],
          ...(v.is === "coding" ? codingKeys(codings, v) : []),
          ...(v.is === "kind" ? ["kind"] : []),
          ...(v.is === "bank" ? ["other"] : []),
        ]}
        button="Post"
        main
        empties
        close={onClose}
        derive={derivesShortcut(codings)}
        job={({ other, ...v }) =>
          bookCashAction({
            company: work.company?.code ?? "",
            bank: box.code,
            ...v,
            ...codingOf(codings, v),
            other: v.is === "bank" ? Number(other) : null,
          })
        }
        done="The entry is posted"
      />
    </SidePanel>
  );
}
