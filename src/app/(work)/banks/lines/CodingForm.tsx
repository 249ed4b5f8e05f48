"use client";
import { useEffect } from "react";
import type { BankCodings, StatementLineView } from "@/server/banks";
import { useWork } from "@/ui/frame/work";
import { FieldForm } from "@/app/lib/FieldForm";
import {
  codingFields,
  codingKeys,
  codingOf,
  codingValues,
  derivesShortcut,
} from "../coding/codingFields";
import { decideLineAction } from "./actions";
import { PostingOfLine } from "./PostingOfLine";
import type { KindChoice } from "./RestChoice";

/** Posts the line by the coding of a kind of movement, or by one given for it alone. */
export function CodingForm({
  line,
  kinds,
  codings,
  onDecided,
}: {
  line: StatementLineView;
  kinds: KindChoice[];
  codings: BankCodings;
  onDecided: () => void;
}) {
  const work = useWork();
  useEffect(() => document.getElementById("line-account")?.focus(), []);
  return (
    <FieldForm
      name="line"
      className="p-0! border-0! shadow-none!"
      columns={2}
      fields={[
        {
          key: "kind",
          label: "Kind of movement",
          kind: "select",
          wide: true,
          options: [
            { value: "", text: "A coding for this line alone" },
            ...kinds.map((k) => ({ value: k.code, text: k.name })),
          ],
        },
        ...codingFields(codings),
        { key: "text", label: "Text in the journal", kind: "text", wide: true },
      ]}
      start={{ kind: "", ...codingValues(codings, null), text: line.text.slice(0, 200) }}
      shows={(v) => ["kind", ...(v.kind ? [] : [...codingKeys(codings, v), "text"])]}
      derive={derivesShortcut(codings)}
      mayChange={work.may("prepare.banks")}
      below={(v) => (
        <PostingOfLine
          line={line}
          codings={codings}
          takes={[]}
          rest={line.amount}
          coding={
            v.kind
              ? (kinds.find((k) => k.code === v.kind)?.coding ?? null)
              : { ...codingOf(codings, v), text: String(v.text ?? "") }
          }
          restName="Still without an account"
        />
      )}
      button="Use this coding"
      job={(v) =>
        decideLineAction({
          id: line.id,
          version: line.version,
          ...(v.kind ? { kind: v.kind } : { coding: { ...codingOf(codings, v), text: v.text } }),
        })
      }
      done="Decided"
      then={onDecided}
    />
  );
}
