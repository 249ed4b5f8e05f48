import type { ApprovalState } from "@/server/approvals";
import { shownDate } from "@/ui/writing";

/** Who was asked for approval, when and why, and how each asking ended. */
export function ApprovalHistory({ approval }: { approval: Pick<ApprovalState, "history"> }) {
  return (
    <ul className="panel shrink-0 px-3.5 py-2">
      {approval.history.map((h, i) => (
        <li key={i} className="py-0.5">
          {h.askedBy} asked on {shownDate(h.askedAt.slice(0, 10))}: {h.why}.{" "}
          {h.state === "waiting"
            ? "It waits."
            : `${h.decidedBy} ${h.state === "approved" ? "approved" : h.state === "returned" ? "returned it" : "withdrew it"}${h.reason ? `: ${h.reason}` : "."}`}
        </li>
      ))}
    </ul>
  );
}
