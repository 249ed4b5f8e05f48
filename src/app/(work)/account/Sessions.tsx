"use client";
import type { SessionRow } from "@/server/access";
import { useAct } from "@/app/lib/useAct";
import { Problems } from "@/ui/Page";
import { endSessionAction } from "./actions";
import { shownDate } from "@/ui/writing";

const when = (at: string) => `${shownDate(at.slice(0, 10))} ${at.slice(11, 16)}`;

/** Where somebody is signed in under this name, and which programs hold a token of it. */
export function Sessions({ rows }: { rows: SessionRow[] }) {
  const { busy, messages, act } = useAct();
  return (
    <section className="panel grid content-start gap-2 p-4" aria-label="Sign-ins">
      <h2>Signed in under your name</h2>
      <Problems messages={messages} />
      <table className="sheet">
        <thead>
          <tr>
            <th>Address</th>
            <th className="w-36">Signed in with</th>
            <th className="w-36">Since</th>
            <th className="w-36">Last used</th>
            <th className="w-24" />
          </tr>
        </thead>
        <tbody>
          {rows.map((s) => (
            <tr key={s.id}>
              <td>{s.address || "unknown"}</td>
              <td>{s.kind === "token" ? "a program" : s.own ? "this browser" : "a browser"}</td>
              <td>{when(s.since)}</td>
              <td>{when(s.lastSeen)}</td>
              <td>
                {!s.own && (
                  <button
                    type="button"
                    className="button h-7"
                    disabled={busy}
                    onClick={() => void act(() => endSessionAction(s.id), "Ended.")}
                  >
                    Sign out
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
