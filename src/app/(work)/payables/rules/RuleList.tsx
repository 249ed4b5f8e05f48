"use client";
import { useState } from "react";
import { CONDITION_PARTS, type CleanUpRule, type ConditionPart } from "@/core/purchasing";
import { dateText, RHYTHM_UNITS } from "@/core/shared";
import type { RuleTrial } from "@/server/purchasing";
import type { Schedule } from "@/server/runs";
import { useAct } from "@/app/lib/useAct";
import { useWork } from "@/ui/frame/work";
import { Empty, Page, Problems } from "@/ui/Page";
import { SidePanel } from "@/ui/panel/SidePanel";
import { Status } from "@/ui/Status";
import Link from "next/link";
import { saveScheduleAction } from "@/app/runs/actions";
import {
  deleteCleanUpRuleAction,
  saveCleanUpRuleAction,
  tryCleanUpRuleAction,
} from "../orders/actions";
import { DateField } from "@/ui/date/DateField";
import { shownAmount, shownDate } from "@/ui/writing";
import { FigureField } from "@/ui/FigureField";

const PART_WORDS: Record<ConditionPart, string> = {
  age: "Age in days",
  amount: "Amount",
  percent: "Per cent of invoiced",
  order: "Order",
  supplier: "Supplier",
  kind: "Kind of item",
};
const ACTION_WORDS = {
  coding: "write off to the order line’s coding",
  account: "write off to an account",
  ask: "put before a person",
} as const;
const sentence = (r: CleanUpRule): string =>
  `${r.conditions.map((c) => `${PART_WORDS[c.part].toLowerCase()} ${c.by} ${c.value}`).join(", ") || "every leftover"}: ${ACTION_WORDS[r.action]}${r.action === "account" ? ` ${r.account}` : ""}`;
const fresh = (place: number): CleanUpRule => ({
  place,
  name: "",
  company: null,
  conditions: [{ part: "age", by: "at least", value: "90" }],
  action: "coding",
  account: "",
  dimensions: {},
  active: true,
});

/**
 * What happens to leftovers by themselves: rules in order, each tried on today's lines before it is
 * saved.
 */
export function RuleList({
  rules,
  mayChange,
  schedule,
}: {
  rules: { rule: CleanUpRule; problems: string[] }[];
  mayChange: boolean;
  schedule: Schedule | null;
}) {
  const [chosen, setChosen] = useState<CleanUpRule | null>(null);
  const next = Math.max(0, ...rules.map((r) => r.rule.place)) + 10;
  return (
    <Page
      title="Clean-up rules"
      note="the first rule that fits takes a leftover; the order decides"
      panel={
        chosen && (
          <RuleForm
            key={chosen.id ?? "new"}
            start={chosen}
            mayChange={mayChange}
            onClose={() => setChosen(null)}
          />
        )
      }
      actions={
        mayChange && (
          <button
            type="button"
            className="button button-main"
            onClick={() => setChosen(fresh(next))}
          >
            Add a rule
          </button>
        )
      }
    >
      <ScheduleForm key={JSON.stringify(schedule?.rhythm)} schedule={schedule} />
      <div className="panel min-h-0 flex-1 overflow-auto">
        {rules.length === 0 ? (
          <Empty title="No rule yet">
            Leftovers of what was received stay until somebody writes them off. A rule can do that,
            after a look at it.
          </Empty>
        ) : (
          <table className="sheet">
            <thead>
              <tr>
                <th className="num w-16">Order</th>
                <th className="w-56">Rule</th>
                <th className="w-28">Status</th>
                <th>Conditions and effect</th>
                <th className="w-24">Company</th>
              </tr>
            </thead>
            <tbody>
              {rules.map(({ rule, problems }) => (
                <tr key={rule.id} className="cursor-pointer" onClick={() => setChosen(rule)}>
                  <td className="num">{rule.place}</td>
                  <td>
                    <button
                      type="button"
                      className="link font-semibold"
                      onClick={() => setChosen(rule)}
                    >
                      {rule.name}
                    </button>
                  </td>
                  <td>
                    <Status
                      of={problems.length > 0 ? "problems" : rule.active ? "active" : "inactive"}
                      quiet
                    />
                  </td>
                  <td>
                    {problems.length > 0 ? (
                      <span className="text-coral">{problems.join(" ")}</span>
                    ) : (
                      sentence(rule)
                    )}
                  </td>
                  <td>{rule.company ?? "all"}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </div>
    </Page>
  );
}

/** When the rules are applied by themselves, and how far that goes. */
function ScheduleForm({ schedule }: { schedule: Schedule | null }) {
  const work = useWork();
  const { busy, messages, act } = useAct();
  const [open, setOpen] = useState(false);
  const [values, setValues] = useState({
    every: String(schedule?.rhythm.every ?? 1),
    unit: schedule?.rhythm.unit ?? ("month" as (typeof RHYTHM_UNITS)[number]),
    first: schedule ? dateText(schedule.rhythm.first) : "",
    mode: schedule?.mode ?? ("preview" as Schedule["mode"]),
  });
  const save = (active: boolean) =>
    void act(
      () =>
        saveScheduleAction({
          company: work.place.company,
          kind: "clean-up",
          rhythm: { every: Number(values.every) || 0, unit: values.unit, first: values.first },
          mode: values.mode,
          active,
        }),
      active ? "They are applied by themselves from then on." : "Stopped.",
      () => setOpen(false),
    );
  return (
    <>
      <Problems messages={messages} />
      <div className="panel flex flex-wrap items-center gap-3 px-3 py-2">
        {!open && (
          <span>
            {schedule?.active
              ? `Applied by themselves ${schedule.rhythmText}, ${schedule.mode === "post" ? "and posted" : "up to the preview"}, as ${schedule.by}${schedule.next ? `; next on ${shownDate(schedule.next)}` : ""}.`
              : `In ${work.company?.name ?? ""} they are applied when somebody asks.`}
          </span>
        )}
        {!open && schedule?.lastOutcome && (
          <span className="text-ink-2">
            Last, {shownDate(schedule.lastDate ?? "")}:{" "}
            {schedule.lastRunId ? (
              <Link
                className="link"
                href={work.link(`/payables/received/runs/${schedule.lastRunId}`)}
              >
                {schedule.lastOutcome}
              </Link>
            ) : (
              schedule.lastOutcome
            )}
          </span>
        )}
        {!open && work.may("post.payables") && (
          <button type="button" className="button ml-auto" onClick={() => setOpen(true)}>
            {schedule ? "Change the schedule" : "Schedule"}
          </button>
        )}
        {open && (
          <form
            className="flex flex-wrap items-center gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              save(true);
            }}
          >
            <label htmlFor="sched-every">Every</label>
            <input
              id="sched-every"
              className="field w-14 text-right"
              autoFocus
              value={values.every}
              onChange={(e) => setValues({ ...values, every: e.target.value })}
            />
            <select
              aria-label="Unit"
              className="field w-24"
              value={values.unit}
              onChange={(e) => setValues({ ...values, unit: e.target.value as typeof values.unit })}
            >
              {RHYTHM_UNITS.map((u) => (
                <option key={u}>{u}</option>
              ))}
            </select>
            <label htmlFor="sched-first">from</label>
            <DateField
              id="sched-first"
              className="w-32"
              placeholder="1 Dec 2026"
              value={values.first}
              onChange={(text) => setValues({ ...values, first: text })}
            />
            <select
              aria-label="How far"
              className="field w-auto"
              value={values.mode}
              onChange={(e) => setValues({ ...values, mode: e.target.value as Schedule["mode"] })}
            >
              <option value="preview">up to the preview</option>
              <option value="post">and post</option>
            </select>
            <button type="submit" className="button button-main" disabled={busy}>
              Save
            </button>
            {schedule?.active && (
              <button type="button" className="button" disabled={busy} onClick={() => save(false)}>
                Stop it
              </button>
            )}
            <button type="button" className="button" onClick={() => setOpen(false)}>
              Cancel
            </button>
          </form>
        )}
      </div>
    </>
  );
}

function RuleForm({
  start,
  mayChange,
  onClose,
}: {
  start: CleanUpRule;
  mayChange: boolean;
  onClose: () => void;
}) {
  const work = useWork();
  const { busy, messages, setMessages, act } = useAct();
  const [rule, setRule] = useState(start);
  const [trial, setTrial] = useState<RuleTrial | null>(null);
  const set = (change: Partial<CleanUpRule>) => {
    setRule((r) => ({ ...r, ...change }));
    setTrial(null);
  };
  const setCondition = (at: number, change: Partial<CleanUpRule["conditions"][number]>) =>
    set({ conditions: rule.conditions.map((c, i) => (i === at ? { ...c, ...change } : c)) });
  const currency = work.company?.currency ?? "EUR";
  const attempt = async () => {
    const result = await tryCleanUpRuleAction({
      company: work.place.company,
      rule: { ...rule, name: rule.name || "this rule" },
    }).catch(() => null);
    if (!result?.ok)
      return setMessages(
        result ? result.problems.map((p) => p.message) : ["The server did not answer. Try again."],
      );
    setMessages([]);
    setTrial(result.value);
  };
  return (
    <SidePanel title={rule.name || "New rule"} onClose={onClose} width={440}>
      <Problems messages={messages} />
      <form
        className="grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          void act(() => saveCleanUpRuleAction(rule), "Saved.", onClose);
        }}
      >
        <div className="flex gap-2">
          <div className="w-20">
            <label className="label" htmlFor="rule-place">
              Order
            </label>
            <input
              id="rule-place"
              className="field text-right"
              inputMode="numeric"
              value={rule.place}
              onChange={(e) => set({ place: Number(e.target.value) || 0 })}
            />
          </div>
          <div className="flex-1">
            <label className="label" htmlFor="rule-name">
              Name
            </label>
            <input
              id="rule-name"
              className="field"
              autoFocus={!start.id}
              value={rule.name}
              onChange={(e) => set({ name: e.target.value })}
            />
          </div>
        </div>
        <fieldset className="grid gap-1.5">
          <legend className="label">It takes a leftover where all of this holds</legend>
          {rule.conditions.map((c, i) => (
            <div key={i} className="flex gap-1.5">
              <select
                aria-label={`Condition ${i + 1}`}
                className="field w-40"
                value={c.part}
                onChange={(e) => {
                  const part = e.target.value as ConditionPart;
                  setCondition(i, { part, by: CONDITION_PARTS[part][0], value: "" });
                }}
              >
                {(Object.keys(CONDITION_PARTS) as ConditionPart[]).map((p) => (
                  <option key={p} value={p}>
                    {PART_WORDS[p]}
                  </option>
                ))}
              </select>
              <select
                aria-label={`Compared by ${i + 1}`}
                className="field w-24"
                value={c.by}
                onChange={(e) => setCondition(i, { by: e.target.value })}
              >
                {CONDITION_PARTS[c.part].map((b) => (
                  <option key={b}>{b}</option>
                ))}
              </select>
              {c.part === "order" ? (
                <select
                  aria-label={`Value ${i + 1}`}
                  className="field flex-1"
                  value={c.value}
                  onChange={(e) => setCondition(i, { value: e.target.value })}
                >
                  <option value="" />
                  <option>open</option>
                  <option>closed</option>
                </select>
              ) : (
                <FigureField
                  aria-label={`Value ${i + 1}`}
                  className="field flex-1"
                  value={c.value}
                  onChange={(value) => setCondition(i, { value })}
                />
              )}
              <button
                type="button"
                className="button button-plain px-2"
                aria-label={`Remove condition ${i + 1}`}
                onClick={() => set({ conditions: rule.conditions.filter((_, n) => n !== i) })}
              >
                ×
              </button>
            </div>
          ))}
          <button
            type="button"
            className="link justify-self-start"
            onClick={() =>
              set({
                conditions: [...rule.conditions, { part: "amount", by: "at most", value: "" }],
              })
            }
          >
            Add a condition
          </button>
        </fieldset>
        <div>
          <label className="label" htmlFor="rule-action">
            Then
          </label>
          <select
            id="rule-action"
            className="field"
            value={rule.action}
            onChange={(e) => set({ action: e.target.value as CleanUpRule["action"] })}
          >
            {Object.entries(ACTION_WORDS).map(([value, word]) => (
              <option key={value} value={value}>
                {word}
              </option>
            ))}
          </select>
        </div>
        {rule.action === "account" && (
          <div className="flex gap-2">
            <div className="flex-1">
              <label className="label" htmlFor="rule-account">
                Account
              </label>
              <input
                id="rule-account"
                className="field"
                value={rule.account}
                onChange={(e) => set({ account: e.target.value })}
              />
            </div>
            {work.dimensions.slice(0, 1).map((d) => (
              <div key={d.code} className="flex-1">
                <label className="label" htmlFor="rule-d">
                  {d.name}
                </label>
                <input
                  id="rule-d"
                  className="field"
                  placeholder="the line’s own"
                  value={rule.dimensions[d.code] ?? ""}
                  onChange={(e) =>
                    set({ dimensions: e.target.value ? { [d.code]: e.target.value } : {} })
                  }
                />
              </div>
            ))}
          </div>
        )}
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={rule.active}
            onChange={(e) => set({ active: e.target.checked })}
          />
          It is in use
        </label>
        <div className="flex gap-2">
          <button type="button" className="button" onClick={() => void attempt()}>
            Try it on today’s lines
          </button>
          {mayChange && (
            <button type="submit" className="button button-main" disabled={busy}>
              Save
            </button>
          )}
          {mayChange && start.id && (
            <button
              type="button"
              className="button"
              disabled={busy}
              onClick={() =>
                void act(
                  () => deleteCleanUpRuleAction(start.id!),
                  "Removed; what it cleaned up stays listed.",
                  onClose,
                )
              }
            >
              Remove
            </button>
          )}
        </div>
      </form>
      {trial && (
        <div className="mt-3 grid gap-2 border-t border-line pt-3" aria-live="polite">
          {trial.problems.length > 0 && (
            <p className="text-coral">
              It cannot work as it is: {trial.problems.length}{" "}
              {trial.problems.length === 1 ? "problem" : "problems"}. Save shows{" "}
              {trial.problems.length === 1 ? "it" : "them"}.
            </p>
          )}
          {trial.problems.length === 0 && (
            <p className="font-semibold">
              It takes {trial.takes.length} {trial.takes.length === 1 ? "line" : "lines"},{" "}
              {shownAmount(
                trial.takes.reduce((t, x) => t + x.leftover.leftover, 0n),
                currency,
              )}{" "}
              {currency}
            </p>
          )}
          {trial.takes.slice(0, 50).map((t) => (
            <div key={t.leftover.receiptLine} className="border-t border-line-2 pt-1">
              <p className="flex justify-between gap-3">
                <span>
                  {t.leftover.receipt}, {t.leftover.supplierName}
                </span>
                <span>{shownAmount(t.leftover.leftover, currency)}</span>
              </p>
              <p className="text-xs text-ink-2">
                {t.why}
                {t.also.length > 0 && `; comes before ${t.also.join(", ")}`}
              </p>
            </div>
          ))}
          {trial.before.length > 0 && (
            <p className="text-ink-2">
              {trial.before.length} more would fit, but{" "}
              {[...new Set(trial.before.map((b) => b.rule))].join(", ")}{" "}
              {trial.before.length === 1 ? "takes it" : "take them"} first.
            </p>
          )}
        </div>
      )}
    </SidePanel>
  );
}
