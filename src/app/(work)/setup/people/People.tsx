"use client";
import { ROLES } from "@/core/access";
import type { PersonRow } from "@/server/access";
import { Empty } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { Status } from "@/ui/Status";
import { saveRecordAction } from "../actions";

export function People({
  rows,
  companies,
  mayChange,
}: {
  rows: PersonRow[];
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
          key: "state",
          header: "State",
          width: 110,
          value: (p) => (p.active ? (p.locked ? "locked" : "active") : "inactive"),
          cell: (p) => (
            <Status of={p.locked ? "closing" : p.active ? "active" : "inactive"} quiet />
          ),
        },
      ]}
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
      save={(v, p) =>
        saveRecordAction("person", {
          ...(p ? { id: p.id } : {}),
          name: v.name,
          login: v.login,
          ...(v.password ? { password: v.password } : {}),
          active: v.active,
          grants: (v.roles as string[]).map((role) => ({ role, company: v.company || null })),
        })
      }
    />
  );
}
