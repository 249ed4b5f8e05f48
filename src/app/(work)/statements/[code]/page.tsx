import Link from "next/link";
import { placeQuery } from "@/core/organisation";
import { STATEMENT_LAYOUTS } from "@/core/statements";
import { describeFound } from "@/core/shared";
import { statement } from "@/server/statements";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { TracePanel } from "@/ui/trace/TracePanel";
import { asKnownNote, readAddress, reportInput, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { openTrace } from "@/app/lib/trace";
import { StatementActions } from "./StatementActions";
import { StatementTable } from "./StatementTable";

export default async function StatementPage({
  params,
  searchParams,
}: {
  params: Promise<{ code: string }>;
  searchParams: SearchParams;
}) {
  const { code } = await params;
  const { address, place } = await readAddress(searchParams);
  const layout = STATEMENT_LAYOUTS.find((l) => l === address.layout) ?? "standard";
  const scale = address.scale === "1" ? 1 : address.scale === "1000000" ? 1_000_000 : 1000;
  const caller = await pageCaller();
  const result = await statement(caller, { ...reportInput(place), code, layout });
  const now = place.asKnown
    ? await statement(caller, { ...reportInput({ ...place, asKnown: null }), code, layout })
    : null;
  const open = await openTrace(address, place);
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip range />} title="Statement">
        <Problems messages={result.problems.map(describeFound)} />
        {result.problems.some((p) => p.code === "NOT_FOUND") && (
          <p>
            Statements are made of the chart under{" "}
            <Link className="link" href={`/setup/outlines?${placeQuery(place)}`}>
              Outlines
            </Link>
            .
          </p>
        )}
      </Page>
    );
  const s = result.value;
  const unit =
    scale === 1
      ? s.currency
      : scale === 1000
        ? `thousands ${s.currency}`
        : `millions ${s.currency}`;
  const missing = [
    ...s.uncaught.map((a) => `${a.number} ${a.name} is on no line`),
    ...s.caughtTwice.map((a) => `${a.number} ${a.name} is on two lines`),
  ];
  return (
    <Page
      strip={<PeriodStrip range />}
      title={s.name}
      note={`${s.companyName} · ${s.periodName} · ${s.book} · ${unit}${place.asKnown ? asKnownNote(place.asKnown) : ""}`}
      actions={<StatementActions code={code} layout={layout} scale={scale} kind={s.kind} />}
      panel={<TracePanel {...open} />}
      footer={
        scale > 1 && (
          <span className="text-ink-2">
            Rounded to {scale === 1000 ? "thousands" : "millions"}, totals from the exact amounts.
            Where the lines shown add up to something else, the difference stands beside the total.
          </span>
        )
      }
    >
      <Problems
        messages={
          missing.length > 0
            ? [
                `This statement is not complete: ${missing.slice(0, 4).join("; ")}${missing.length > 4 ? ` and ${missing.length - 4} more` : ""}.`,
              ]
            : []
        }
      />
      <StatementTable
        code={s.code}
        layout={layout}
        scale={scale}
        currency={s.currency}
        columns={s.columns}
        lines={s.lines}
        now={now?.ok ? now.value.lines : null}
      />
    </Page>
  );
}
