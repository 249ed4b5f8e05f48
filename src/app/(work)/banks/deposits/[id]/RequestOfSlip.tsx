import type { DepositView } from "@/server/banks";
import { SecondLook } from "@/app/lib/SecondLook";
import { useWork } from "@/ui/frame/work";
import { shownDate } from "@/ui/writing";
import { decideSlipRequestAction } from "../actions";

/** What a second person is asked to do with a slip. */
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
  const what =
    request.is === "cancel"
      ? "to cancel the whole slip"
      : `to note that cheque ${slip.of.find((p) => p.no === request.input.no)?.cheque ?? ""} came back on ${shownDate(request.input.date)}`;
  return (
    <SecondLook
      by={request.by}
      isMine={request.login === work.person.login}
      what={`${what}: ${request.input.reason}`}
      mayDecide={mayDecide}
      decide={(keep) => decideSlipRequestAction(slip.id, keep)}
      left="The slip stays as it is"
    />
  );
}
