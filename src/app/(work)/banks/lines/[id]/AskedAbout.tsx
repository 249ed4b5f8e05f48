"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import type { AskedLine } from "@/server/banks";
import { useWork } from "@/ui/frame/work";
import { Fact, Page } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { shownAmount, shownDate } from "@/ui/writing";
import { Remarks } from "@/app/papers/Remarks";
import { remarkOnLineAction } from "../actions";

export function AskedAbout({ line }: { line: AskedLine }) {
  const work = useWork();
  const router = useRouter();
  return (
    <Page
      title="Statement line"
      note={`${line.bank}, ${line.company}`}
      actions={
        line.seesAll && (
          <Link
            className="button"
            href={work.link("/banks/lines", {
              company: line.company,
              status: "all",
              line: String(line.id),
            })}
          >
            Open among all lines
          </Link>
        )
      }
    >
      <div className="panel grid grid-cols-4 gap-x-6 gap-y-3 p-4">
        <div className="min-w-0">
          <div className="text-xs text-ink-2">From or to</div>
          <p className="break-words text-[15px] font-bold">{line.party || "not said"}</p>
        </div>
        <Fact label="Amount">
          {shownAmount(line.amount, line.currency)} {line.currency}
        </Fact>
        <Fact label="Booked">{shownDate(line.booked)}</Fact>
        <Fact label="Status">
          <Status of={line.state} />
        </Fact>
        <div className="col-span-full">
          <div className="text-xs text-ink-2">The bank’s text</div>
          <p className="break-words">{line.text || "nothing"}</p>
        </div>
      </div>
      <div className="panel max-w-2xl p-4">
        <h2 className="mb-1 font-semibold">Remarks</h2>
        <Remarks
          remarks={line.remarks}
          say={(text) => remarkOnLineAction(line.id, text)}
          said={() => router.refresh()}
        />
      </div>
    </Page>
  );
}
