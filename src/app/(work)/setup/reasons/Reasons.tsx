"use client";
import { REASON_PLACES, reasonSchema, type ReasonPlace } from "@/core/documents";
import type { Reason, ReasonRules } from "@/server/documents";
import { faultsOf } from "@/ui/form";
import { Empty } from "@/ui/Page";
import { RecordPage, type RecordValues } from "@/ui/RecordPage";
import { saveRecordAction } from "../actions";
import { RulesOfReasons } from "./RulesOfReasons";

const PLACES = Object.entries(REASON_PLACES) as [ReasonPlace, string][];

const toInput = (v: RecordValues) => ({
  text: v.text,
  places: PLACES.map(([place]) => place).filter((place) => v[place] === true),
  blocked: v.blocked === true,
});

/** Reasons that are offered to whoever takes something back; others can always be typed. */
export function Reasons({
  rows,
  rules,
  mayChange,
}: {
  rows: Reason[];
  rules: ReasonRules;
  mayChange: boolean;
}) {
  return (
    <RecordPage<Reason>
      title="Reasons"
      note="offered where something is taken back; others can be typed"
      name="reasons"
      rows={rows}
      rowKey={(r) => String(r.id)}
      mayChange={mayChange}
      add={mayChange ? "New reason" : null}
      notice={<RulesOfReasons start={rules} mayChange={mayChange} />}
      empty={
        <Empty title="No reason yet">
          Whoever cancels or reverses something types why; what is written here is offered.
        </Empty>
      }
      columns={[
        { key: "text", header: "Reason", value: (r) => r.text },
        {
          key: "places",
          header: "Offered for",
          width: 420,
          value: (r) => r.places.map((p) => REASON_PLACES[p]).join("; "),
        },
        {
          key: "blocked",
          header: "Blocked",
          width: 90,
          value: (r) => (r.blocked ? "blocked" : ""),
        },
      ]}
      fields={[
        { key: "text", label: "Reason", kind: "text", required: true },
        ...PLACES.map(([key, label]) => ({ key, label, kind: "check" as const })),
        { key: "blocked", label: "Not offered any more", kind: "check" },
      ]}
      toValues={(r) => ({
        text: r?.text ?? "",
        ...Object.fromEntries(PLACES.map(([key]) => [key, r?.places.includes(key) ?? false])),
        blocked: r?.blocked ?? false,
      })}
      check={(v) => faultsOf(reasonSchema, toInput(v))}
      save={(v, r) =>
        saveRecordAction("reason", {
          ...toInput(v),
          ...(r ? { id: r.id, version: r.version } : {}),
        })
      }
    />
  );
}
