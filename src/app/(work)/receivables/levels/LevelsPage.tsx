"use client";
import Link from "next/link";
import { useMemo } from "react";
import { reminderProcedureSchema } from "@/core/receivables";
import type { GroupReminders } from "@/server/receivables";
import { FieldForm } from "@/app/lib/FieldForm";
import { faultsOf, type Fault, type RecordValues } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { Page } from "@/ui/Page";
import { saveRemindersAction } from "../letters/actions";
import { fieldOf, levelFields, procedureOf, shownLevelFields, valuesOf } from "./levelFields";

/** When customers of a group are reminded, what that charges, and what the letters say. */
export function LevelsPage({
  groups,
  group,
  currency,
  mayChange,
}: {
  groups: readonly GroupReminders[];
  group: GroupReminders;
  currency: string;
  mayChange: boolean;
}) {
  const work = useWork();
  const fields = useMemo(() => levelFields(currency), [currency]);
  const atField = <F extends Fault>(fault: F, v: RecordValues): F => ({
    ...fault,
    field: fieldOf(fault.field ?? undefined, v),
  });
  return (
    <Page
      title="Reminder levels"
      note={group.name}
      actions={groups.map((g) => (
        <Link
          key={g.code}
          className="button"
          aria-current={g.code === group.code ? "page" : undefined}
          href={work.link("/receivables/levels", { group: g.code })}
        >
          {g.name}
        </Link>
      ))}
    >
      <div className="min-h-0 flex-1 overflow-y-auto" tabIndex={0} aria-label="Levels">
        <FieldForm
          name="levels"
          className="max-w-5xl"
          columns={4}
          mayChange={mayChange}
          says={
            <>
              {group.own
                ? ""
                : group.code === ""
                  ? "Nothing has been set: this is what is usual. "
                  : "This group is reminded as all other customers. "}
              A level without days is none. Texts may name {"{customer}"}, {"{total}"}, {"{day}"},{" "}
              {"{until}"} and {"{level}"}; an empty text is the usual one.
            </>
          }
          fields={fields}
          shows={shownLevelFields}
          start={valuesOf(group.rule)}
          check={(v) => faultsOf(reminderProcedureSchema, procedureOf(v)).map((f) => atField(f, v))}
          button="Save the levels"
          main
          job={async (v) => {
            const result = await saveRemindersAction({
              code: group.code,
              procedure: procedureOf(v),
            });
            return result.ok
              ? result
              : { ...result, problems: result.problems.map((p) => atField(p, v)) };
          }}
          done="The levels hold from now on."
        />
      </div>
    </Page>
  );
}
