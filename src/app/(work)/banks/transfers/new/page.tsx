import { describeFound } from "@/core/shared";
import { transferAccounts } from "@/server/banks";
import { Page, Problems } from "@/ui/Page";
import { readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { NewTransfer } from "./NewTransfer";

export const metadata = { title: "New transfer" };

export default async function NewTransferPage({ searchParams }: { searchParams: SearchParams }) {
  const { place, address } = await readAddress(searchParams);
  const result = await transferAccounts(await pageCaller(), { company: place.company });
  return result.ok ? (
    <NewTransfer
      key={`${place.company} ${address.trial ?? ""}`}
      accounts={result.value}
      trial={result.value.find((a) => a.code === address.trial) ?? null}
    />
  ) : (
    <Page title="New transfer">
      <Problems messages={result.problems.map(describeFound)} />
    </Page>
  );
}
