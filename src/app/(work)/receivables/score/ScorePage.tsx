"use client";
import Link from "next/link";
import { useEffect, useState } from "react";
import { scorePolicySchema, usualPolicy, type ScorePolicy } from "@/core/receivables";
import type { GroupPolicy, NewOrder } from "@/server/receivables";
import { FieldForm } from "@/app/lib/FieldForm";
import { faultsOf, type RecordField, type RecordValues } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { Page } from "@/ui/Page";
import { saveCustomerGroupAction, tryPolicyAction } from "./actions";

/** Parts and the figure from which each has all of its points. */
const FIELDS: readonly (readonly [keyof ScorePolicy, string])[] = [
  ["late", "Days overdue: points"],
  ["lateDays", "all from days"],
  ["amount", "Amount to collect: points"],
  ["amountFull", "all from amount"],
  ["broken", "Broken promises: points"],
  ["brokenCount", "all from promises"],
  ["grade", "Credit grade: points"],
  ["limit", "Limit used: points"],
  ["silent", "Silence: points"],
  ["silentDays", "all from days"],
  ["soon", "Large item due soon: points"],
  ["solved", "Dispute solved: points"],
  ["trend", "Pays later than before: points"],
];

/** How customers of a group are ranked, with the order that it would give beside today's. */
export function ScorePage({
  company,
  groups,
  group,
  mayChange,
}: {
  company: string;
  groups: readonly GroupPolicy[];
  /** Null for a new one. */
  group: GroupPolicy | null;
  mayChange: boolean;
}) {
  const work = useWork();
  const [tried, setTried] = useState<ScorePolicy | null>(null);
  const start: ScorePolicy = group?.policy ?? usualPolicy();
  const fields: RecordField[] = [
    { key: "code", label: "Code", kind: "text", required: true, fixed: true },
    { key: "name", label: "Name", kind: "text", required: true },
    ...FIELDS.map(([key, label]): RecordField => ({ key, label, kind: "figure" })),
  ];
  return (
    <Page
      title="Score of customers"
      note={group ? `${group.code} ${group.name}` : "a new group"}
      actions={
        <>
          {groups.map((g) => (
            <Link
              key={g.code}
              className="button"
              aria-current={g.code === group?.code ? "page" : undefined}
              href={work.link("/receivables/score", { group: g.code })}
            >
              {g.name}
            </Link>
          ))}
          {mayChange && (
            <Link className="button" href={work.link("/receivables/score", { group: "new" })}>
              New group
            </Link>
          )}
        </>
      }
    >
      <div className="flex min-h-0 flex-1 gap-2.5 overflow-y-auto">
        <FieldForm
          name="score"
          className="w-[520px] shrink-0 self-start"
          columns={2}
          mayChange={mayChange}
          stands={group !== null}
          fields={fields}
          start={{
            code: group?.code ?? "",
            name: group?.name ?? "",
            ...Object.fromEntries(FIELDS.map(([key]) => [key, String(start[key])])),
          }}
          check={(v) => faultsOf(scorePolicySchema, policyOf(v))}
          below={(v) => <Trying values={v} onTry={setTried} />}
          button="Let it count"
          main
          job={(v) => saveCustomerGroupAction({ code: v.code, name: v.name, policy: policyOf(v) })}
          done="It counts from now on."
        />
        {group && <Order company={company} group={group.code} policy={tried ?? start} />}
      </div>
    </Page>
  );
}

const policyOf = (v: RecordValues) =>
  Object.fromEntries(FIELDS.map(([key]) => [key, String(v[key] ?? "").trim()]));

/** The sum of the points; and, half a second after the last key, the order that they give. */
function Trying({ values, onTry }: { values: RecordValues; onTry: (policy: ScorePolicy) => void }) {
  const text = JSON.stringify(policyOf(values));
  useEffect(() => {
    const timer = setTimeout(() => {
      const written: unknown = JSON.parse(text);
      if (scorePolicySchema.isValidSync(written)) onTry(scorePolicySchema.cast(written));
    }, 500);
    return () => clearTimeout(timer);
  }, [text, onTry]);
  const points = [
    "late",
    "amount",
    "broken",
    "grade",
    "limit",
    "silent",
    "soon",
    "solved",
    "trend",
  ];
  const sum = points.reduce((t, key) => t + (Number(values[key]) || 0), 0);
  return <p className="col-span-2 text-ink-2">A score of this group comes to {sum} at most.</p>;
}

/** The order today and as it would be, those that move first in sight. */
function Order({
  company,
  group,
  policy,
}: {
  company: string;
  group: string;
  policy: ScorePolicy;
}) {
  const [found, setFound] = useState<NewOrder | null>(null);
  const [refused, setRefused] = useState("");
  useEffect(() => {
    let current = true;
    void tryPolicyAction({ company, group, policy }).then(
      (r) => {
        if (!current) return;
        setRefused(r.ok ? "" : r.message);
        if (r.ok) setFound(r.value);
      },
      () => current && setRefused("The server did not answer."),
    );
    return () => {
      current = false;
    };
  }, [company, group, policy]);
  return (
    <section
      aria-label="The new order beside today's"
      tabIndex={0}
      className="panel min-w-0 flex-1 overflow-auto"
    >
      {refused && <p className="notice m-3">{refused}</p>}
      <table className="sheet">
        <thead>
          <tr>
            <th className="num w-16">New</th>
            <th className="num w-16">Today</th>
            <th>Customer</th>
            <th className="num w-24">New score</th>
            <th className="num w-24">Score today</th>
          </tr>
        </thead>
        <tbody>
          {(found?.rows ?? []).map((r) => (
            <tr key={r.code} className={r.after === r.before ? "" : "font-semibold"}>
              <td className="num">{r.after}</td>
              <td className="num">
                {r.before}
                {r.after < r.before ? " ↑" : r.after > r.before ? " ↓" : ""}
              </td>
              <td>
                {r.code} {r.name}
              </td>
              <td className="num">{r.score}</td>
              <td className="num">{r.was}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
