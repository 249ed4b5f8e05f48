import { describeFound } from "@/core/shared";
import { listAssetClasses, listIntake } from "@/server/assets";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { IntakePage } from "./IntakePage";

export const metadata = { title: "Intake of assets" };

export default async function OneIntakePage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const frame = await frameData();
  const on =
    frame.companies
      .find((c) => c.code === place.company)
      ?.periods.find((p) => p.key === place.period)?.end ?? frame.today;
  const intake = await listIntake(await pageCaller(), { company: place.company });
  const classes = await listAssetClasses(await pageCaller());
  if (!intake.ok || !classes.ok)
    return (
      <Page strip={<PeriodStrip />} title="Intake of assets">
        <Problems
          messages={[intake, classes].flatMap((r) => (r.ok ? [] : r.problems.map(describeFound)))}
        />
      </Page>
    );
  return (
    <IntakePage
      intake={intake.value}
      classes={classes.value
        .filter((c) => !c.blocked)
        .map((c) => ({ value: c.code, text: `${c.code} ${c.name}` }))}
      on={on < frame.today ? on : frame.today}
    />
  );
}
