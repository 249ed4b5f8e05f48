"use client";
import { useRouter } from "next/navigation";
import type { DepositView } from "@/server/banks";
import { useAct } from "@/app/lib/useAct";
import { useWork } from "@/ui/frame/work";
import { Problems } from "@/ui/Page";
import { shownDate } from "@/ui/writing";
import { decideSlipRequestAction } from "../actions";

/** What a second person is asked to do with a slip: done or left by whoever did not ask. */
export function RequestOfSlip({
  slip,
  request,
  mayDecide,
}: {
  slip: DepositView;
  request: NonNullable<DepositView["request"]>;
  mayDecide: boolean;
}) {
  const work = useWork();
  const router = useRouter();
  const { busy, messages, act } = useAct();
  const isMine = request.login === work.person.login;
  const what =
    request.is === "cancel"
      ? "to cancel the whole slip"
      : `to note that cheque ${slip.of.find((p) => p.no === request.input.no)?.cheque ?? ""} came back on ${shownDate(request.input.date)}`;
  const decide = (keep: boolean) =>
    void act(
      () => decideSlipRequestAction(slip.id, keep),
      keep ? "The slip stays as it is" : "Done as it was asked",
      () => router.refresh(),
    );
  return (
    <div className="panel flex shrink-0 flex-col gap-2 px-3 py-2.5" role="status">
      <Problems messages={messages} />
      <div className="flex items-center gap-3">
        <p className="flex-1">
          {isMine ? "You have" : `${request.by} has`} asked {what}: {request.input.reason}.
          {isMine && " A second person decides."}
        </p>
        {mayDecide && !isMine && (
          <button
            type="button"
            className="button button-main"
            disabled={busy}
            onClick={() => decide(false)}
          >
            Do it
          </button>
        )}
        {mayDecide && (
          <button type="button" className="button" disabled={busy} onClick={() => decide(true)}>
            {isMine ? "Take it back" : "Leave it"}
          </button>
        )}
      </div>
    </div>
  );
}
