import { describeFound } from "@/core/shared";
import { accountView, getJournal } from "@/server/ledger";
import { commitments } from "@/server/purchasing";
import { readPreferences } from "@/server/access";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Empty, Page, Problems } from "@/ui/Page";
import { TracePanel } from "@/ui/trace/TracePanel";
import { AsKnown } from "@/ui/AsKnown";
import { readAddress, reportInput, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { openTrace } from "@/app/lib/trace";
import { JournalBeside } from "../../journals/[key]/JournalBeside";
import { AccountBar, AccountViews, type AccountQuestion } from "./AccountBar";
import { AccountFooter, AccountLines, AccountMonths, TAccounts } from "./AccountLines";
import { CommitmentTable } from "./CommitmentTable";
import { LazyChart } from "./LazyChart";

const AWAITED = {
  plan: {
    title: "No plan stands against these accounts",
    text: "A plan version fills this with its amounts by period, beside which the actual ones can be held.",
  },
};

export default async function AccountPage({
  params,
  searchParams,
}: {
  params: Promise<{ choice: string }>;
  searchParams: SearchParams;
}) {
  const choice = decodeURIComponent((await params).choice);
  const { address, place } = await readAddress(searchParams);
  const caller = await pageCaller();
  const list = (text: string | undefined) => (text ?? "").split(",").filter(Boolean);
  const question: AccountQuestion = {
    accounts: choice,
    companies: address.companies ? list(address.companies) : [place.company],
    values: list(address.value),
    amounts: address.amounts === "currency" ? "currency" : "total",
    of: address.of === "plan" || address.of === "commitments" ? address.of : "actual",
    scale: address.scale === "1000" ? 1000 : address.scale === "1000000" ? 1000000 : 1,
    chart: address.chart === "1",
    asT: address.as === "t",
  };
  const result = await accountView(caller, {
    ...reportInput(place),
    account: choice,
    companies: question.companies,
    values: question.values,
    amounts: question.amounts,
  });
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip range />} title={`Account ${choice}`}>
        <AccountBar question={question} />
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const view = result.value;
  const committed =
    question.of === "commitments"
      ? await commitments(caller, {
          companies: question.companies,
          accounts: view.accounts.map((a) => a.number),
          values: question.values,
        })
      : null;
  const preferences = await readPreferences(caller);
  const open = await openTrace(address, place, { values: question.values, withClosing: true });
  const beside =
    address.beside && !address.trace ? await getJournal(caller, { key: address.beside }) : null;
  const one = view.accounts.length === 1 ? view.accounts[0]! : null;
  const title = one ? `${one.number} ${one.name}` : `Accounts ${choice}`;
  const note = `${question.companies.length > 1 ? `${question.companies.length} companies` : view.figures[0]!.companyName} · ${view.book}${one?.control ? ` · ${one.control} control account` : ""}${question.values.length > 0 ? ` · ${question.values.map((v) => v.split(":")[1]).join(", ")}` : ""}`;
  return (
    <Page
      strip={<PeriodStrip range />}
      title={title}
      note={note}
      actions={
        <>
          <AccountViews question={question} />
          <AsKnown changes />
        </>
      }
      footer={question.of === "actual" && <AccountFooter view={view} />}
      panel={
        beside ? (
          <JournalBeside
            journal={beside.ok ? beside.value : null}
            message={beside.ok ? null : beside.problems.map(describeFound).join(" ")}
          />
        ) : (
          <TracePanel {...open} />
        )
      }
    >
      <AccountBar question={question} />
      {question.of === "commitments" ? (
        <>
          {committed && !committed.ok && (
            <Problems messages={committed.problems.map(describeFound)} />
          )}
          <CommitmentTable rows={committed?.ok ? committed.value : []} />
        </>
      ) : question.of !== "actual" ? (
        <div className="panel flex-1">
          <Empty title={AWAITED[question.of].title}>{AWAITED[question.of].text}</Empty>
        </div>
      ) : (
        <div className="print-flow flex min-h-0 flex-1 flex-col gap-2.5 overflow-y-auto *:last:min-h-[240px]">
          <AccountMonths
            view={view}
            accounts={choice}
            traceable={question.amounts === "total"}
            scale={question.scale}
          />
          {question.chart &&
            view.figures.map((f) => (
              <LazyChart
                key={`${f.company} ${f.currency}`}
                figures={f}
                name={`${title}, ${f.company} ${f.currency}`}
              />
            ))}
          {question.asT ? (
            <TAccounts view={view} />
          ) : (
            <AccountLines
              view={view}
              kept={preferences.ok ? preferences.value["table.account-lines"] : undefined}
              open={address.beside}
            />
          )}
        </div>
      )}
    </Page>
  );
}
