"use client";
import { useState } from "react";
import { ROLES, type Role } from "@/core/access";
import { useAct } from "@/app/lib/useAct";
import { Problems } from "@/ui/Page";
import { saveRecordAction } from "../actions";

/** From which roles a second factor is demanded; changed behind a button of its own. */
export function DemandFactor({ start, mayChange }: { start: Role[]; mayChange: boolean }) {
  const { busy, messages, act } = useAct();
  const [roles, setRoles] = useState<readonly Role[] | null>(null);
  if (roles === null)
    return (
      <p className="panel flex items-center gap-3 px-4 py-2.5">
        <span>
          A second factor is demanded of{" "}
          <b className="font-semibold">{start.length > 0 ? start.join(", ") : "nobody"}</b>.
        </span>
        {mayChange && (
          <button type="button" className="button" onClick={() => setRoles(start)}>
            Change
          </button>
        )}
      </p>
    );
  return (
    <form
      className="panel flex flex-wrap items-center gap-x-4 gap-y-2 px-4 py-2.5"
      onSubmit={(e) => {
        e.preventDefault();
        void act(
          () => saveRecordAction("factorRoles", { roles }),
          roles.length > 0
            ? "Whoever has such a role and no second factor sets one up before anything else."
            : "A second factor is demanded of nobody.",
          () => setRoles(null),
        );
      }}
    >
      <span className="font-semibold">Demand a second factor of</span>
      {ROLES.map((role) => (
        <label key={role} className="flex items-center gap-1.5">
          <input
            type="checkbox"
            checked={roles.includes(role)}
            onChange={(e) =>
              setRoles(e.target.checked ? [...roles, role] : roles.filter((r) => r !== role))
            }
          />
          {role}
        </label>
      ))}
      <button type="submit" className="button button-main" disabled={busy}>
        Save demand
      </button>
      <button type="button" className="button" onClick={() => setRoles(null)}>
        Cancel
      </button>
      <Problems messages={messages} />
    </form>
  );
}
