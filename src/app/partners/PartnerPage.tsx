import { describeFound } from "@/core/shared";
import { getJournal } from "@/server/ledger";
import { openItems, partnerGlance, type ItemArea } from "@/server/openItems";
import { getPartner, listTerms } from "@/server/partners";
import { customerState } from "@/server/receivables";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { JournalBeside } from "../(work)/ledger/journals/[key]/JournalBeside";
import { PartnerView } from "./PartnerView";
import { shownDate } from "@/ui/writing";

/**
 * A supplier or customer: what is open, what is late, what was ever done, and its bank accounts.
 */
export async function PartnerPage({
  area,
  code,
  searchParams,
}: {
  area: ItemArea;
  code: string;
  searchParams: SearchParams;
}) {
  const { address, place } = await readAddress(searchParams);
  const caller = await pageCaller();
  const { today, person } = await frameData();
  const partner = await getPartner(caller, { code });
  const on = address.on ?? today;
  const items = await openItems(caller, {
    company: place.company,
    area,
    partner: code,
    on,
    settled: address.all === "1",
  });
  const glance = await partnerGlance(caller, { company: place.company, area, partner: code, on });
  if (!partner.ok || !items.ok || !glance.ok)
    return (
      <Page strip={<PeriodStrip />} title={code}>
        <Problems
          messages={[
            ...(partner.ok ? [] : partner.problems),
            ...(items.ok ? [] : items.problems),
            ...(glance.ok ? [] : glance.problems),
          ].map(describeFound)}
        />
      </Page>
    );
  const terms = await listTerms(caller);
  const state =
    area === "receivables"
      ? await customerState(caller, { company: place.company, partner: code })
      : null;
  const beside = address.beside ? await getJournal(caller, { key: address.beside }) : null;
  return (
    <PartnerView
      area={area}
      partner={partner.value}
      items={items.value}
      glance={glance.value}
      state={state?.ok ? state.value : null}
      on={on}
      all={address.all === "1"}
      terms={(terms.ok && terms.value.find((t) => t.code === partner.value.terms)?.name) || "none"}
      note={`${code} · on ${shownDate(on)}`}
      maySettle={person.rights.includes(`post.${area}`)}
      mayChange={person.rights.includes(`prepare.${area}`)}
      panel={
        beside && (
          <JournalBeside
            journal={beside.ok ? beside.value : null}
            message={beside.ok ? null : beside.problems.map(describeFound).join(" ")}
          />
        )
      }
    />
  );
}
