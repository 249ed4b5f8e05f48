import { MOST } from "@/core/lists";
import { describeFound } from "@/core/shared";
import { approvalOf } from "@/server/approvals";
import { getBatch, listJournals } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { BatchPage } from "./BatchPage";

export const metadata = { title: "Batch" };

export default async function OneBatchPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const caller = await pageCaller();
  const result = await getBatch(caller, { id: Number(id) || 0 });
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip />} title="Batch">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const inside = new Set(result.value.items.map((i) => i.id));
  const drafts = await listJournals(caller, {
    company: result.value.company,
    status: "draft",
    limit: MOST,
  });
  // A batch is of one period: what lies in another is not offered.
  const period = (await frameData()).companies
    .find((c) => c.code === result.value.company)
    ?.periods.find((p) => p.key === result.value.period);
  const fits = (date: string | null) =>
    date === null || !period || (period.start <= date && date <= period.end);
  const approval = await approvalOf(caller, { id: result.value.id });
  return (
    <BatchPage
      batch={result.value}
      approval={approval.ok ? approval.value : null}
      loose={
        drafts.ok
          ? drafts.value.rows
              .filter((d) => !inside.has(d.id) && fits(d.date))
              .map(({ id: key, description }) => ({ id: key, description }))
          : []
      }
    />
  );
}
