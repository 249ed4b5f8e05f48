"use client";
import { useRouter } from "next/navigation";
import { Problems } from "@/ui/Page";
import type { Answer } from "./answer";
import { useAct } from "./useAct";

/** What a second person is asked to do: done or left by whoever did not ask. */
export function SecondLook({
  by,
  isMine,
  what,
  mayDecide,
  decide,
  left,
}: {
  by: string;
  isMine: boolean;
  /** What was asked, and why. */
  what: string;
  mayDecide: boolean;
  decide(keep: boolean): Promise<Answer<unknown>>;
  /** What is said once it is left. */
  left: string;
}) {
  const router = useRouter();
  const { busy, messages, act } = useAct();
  const answer = (keep: boolean) =>
    void act(
      () => decide(keep),
      keep ? left : "Done as it was asked",
      () => router.refresh(),
    );
  return (
    <div className="panel flex shrink-0 flex-col gap-2 px-3 py-2.5" role="status">
      <Problems messages={messages} />
      <div className="flex items-center gap-3">
        <p className="flex-1">
          {isMine ? "You have" : `${by} has`} asked {what}.{isMine && " A second person decides."}
        </p>
        {mayDecide && !isMine && (
          <button
            type="button"
            className="button button-main"
            disabled={busy}
            onClick={() => answer(false)}
          >
            Do it
          </button>
        )}
        {mayDecide && (
          <button type="button" className="button" disabled={busy} onClick={() => answer(true)}>
            {isMine ? "Take it back" : "Leave it"}
          </button>
        )}
      </div>
    </div>
  );
}
