"use client";
import { useState } from "react";
import { ROLES, type Role } from "@/core/access";
import { useAct } from "@/app/lib/useAct";
import { Problems } from "@/ui/Page";
import { saveRecordAction } from "../actions";

/** From which roles a second factor is demanded. */
export function DemandFactor({ start, mayChange }: { start: Role[]; mayChange: boolean }) {
  const { busy, messages, act } = useAct();
  const [roles, setRoles] = useState<readonly Role[]>(start);
  return (
    <form
      className="panel flex flex-wrap items-center gap-x-4 gap-y-2 px-4 py-2.5"
      onSubmit={(e) => {
        e.preventDefault();
        void act(() => saveRecordAction("factorRoles", { roles }), "Saved.");
      }}
    >
      <span className="font-semibold">A second factor is demanded of</span>
      {ROLES.map((role) => (
        <label key={role} className="flex items-center gap-1.5">
          <input
            type="checkbox"
            disabled={!mayChange}
            checked={roles.includes(role)}
            onChange={(e) =>
              setRoles(e.target.checked ? [...roles, role] : roles.filter((r) => r !== role))
            }
          />
          {role}
        </label>
      ))}
      {mayChange && (
        <button type="submit" className="button" disabled={busy}>
          Save
        </button>
      )}
      <Problems messages={messages} />
    </form>
  );
}
