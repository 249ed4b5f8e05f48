import { describeFound } from "@/core/shared";
import { listTerms } from "@/server/partners";
import { Page, Problems } from "@/ui/Page";
import { frameData } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { TermsList } from "./TermsList";

/** Terms of payment, which suppliers and customers share. */
export async function TermsPage() {
  const result = await listTerms(await pageCaller());
  const { person } = await frameData();
  if (!result.ok)
    return (
      <Page title="Terms of payment">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  return (
    <TermsList
      rows={result.value}
      mayChange={(["setup.rules", "prepare.payables", "prepare.receivables"] as const).some((r) =>
        person.groupRights.includes(r),
      )}
    />
  );
}
