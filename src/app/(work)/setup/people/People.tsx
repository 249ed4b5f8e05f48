"use client";
import { personSchema, ROLES, type Role } from "@/core/access";
import type { PersonRow } from "@/server/access";
import { faultsOf, type RecordValues } from "@/ui/form";
import { Empty } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { Status } from "@/ui/Status";
import { useAct } from "@/app/lib/useAct";
import { saveRecordAction } from "../actions";
import { DemandFactor } from "./DemandFactor";

export function People({
  rows,
  companies,
  mayChange,
  factorRoles,
  mayDemand,
}: {
  rows: PersonRow[];
  factorRoles: Role[];
  mayDemand: boolean;
  companies: { code: string; name: string }[];
  mayChange: boolean;
}) {
  const scope = (p: PersonRow | null) => p?.grants.find((g) => g.company)?.company ?? "";
  return (
    <RecordPage<PersonRow>
      title="People and rights"
      note="who may sign in, and what each may do"
      name="people"
      rows={rows}
      rowKey={(p) => p.login}
      mayChange={mayChange}
      add="Add a person"
      empty={<Empty title="Nobody yet" />}
      columns={[
        { key: "name", header: "Name", value: (p) => p.name },
        { key: "login", header: "Sign-in name", width: 150, value: (p) => p.login },
        {
          key: "roles",
          header: "Roles",
          value: (p) => [...new Set(p.grants.map((g) => g.role))].join(", "),
        },
        { key: "companies", header: "Companies", width: 130, value: (p) => scope(p) || "all" },
        {
          key: "factor",
          header: "Second factor",
          width: 120,
          value: (p) => (p.secondFactor ? "set up" : ""),
        },
        {
          key: "state",
          header: "State",
          width: 110,
          value: (p) => (p.active ? (p.locked ? "locked" : "active") : "inactive"),
          cell: (p) => (
            <Status of={p.locked ? "closing" : p.active ? "active" : "inactive"} quiet />
          ),
        },
      ]}
      notice={<DemandFactor start={factorRoles} mayChange={mayDemand} />}
      aside={(p) => mayChange && p.secondFactor && <ResetFactor id={p.id} />}
      fields={[
        { key: "name", label: "Name", kind: "text", required: true },
        { key: "login", label: "Sign-in name", kind: "text", required: true },
        {
          key: "password",
          label: "Password",
          kind: "password",
          hint: "12 characters or more. Empty keeps the one there is; a new one ends open sessions.",
        },
        {
          key: "roles",
          label: "Roles",
          kind: "checks",
          options: ROLES.map((r) => ({ value: r, text: r })),
        },
        {
          key: "company",
          label: "In",
          kind: "select",
          options: [
            { value: "", text: "all companies" },
            ...companies.map((c) => ({ value: c.code, text: c.name })),
          ],
        },
        { key: "active", label: "May sign in", kind: "check" },
      ]}
      toValues={(p) => ({
        name: p?.name ?? "",
        login: p?.login ?? "",
        password: "",
        roles: [...new Set(p?.grants.map((g) => g.role) ?? [])],
        company: scope(p),
        active: p?.active ?? true,
      })}
      check={(v, p) => faultsOf(personSchema, inputOf(v, p))}
      save={(v, p) => saveRecordAction("person", inputOf(v, p))}
    />
  );
}

const inputOf = (v: RecordValues, p: PersonRow | null) => ({
  ...(p ? { id: p.id } : {}),
  name: v.name,
  login: v.login,
  ...(v.password ? { password: v.password } : {}),
  active: v.active,
  grants: (v.roles as string[]).map((role) => ({ role, company: v.company || null })),
});

/** For somebody who has lost the telephone and the recovery codes. */
function ResetFactor({ id }: { id: number }) {
  const { busy, messages, act } = useAct();
  return (
    <div className="grid gap-1">
      <button
        type="button"
        className="button justify-self-start"
        disabled={busy}
        onClick={() =>
          void act(
            () => saveRecordAction("factorGone", { id }),
            "Reset. Their sign-ins have ended, and the password alone is enough until it is set up.",
          )
        }
      >
        Reset the second factor
      </button>
      {messages.map((m) => (
        <p key={m} className="text-coral">
          {m}
        </p>
      ))}
    </div>
  );
}
