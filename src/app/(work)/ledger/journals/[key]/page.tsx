import { journalInput } from "@/core/ledger";
import { dateText, describeFound } from "@/core/shared";
import { approvalOf } from "@/server/approvals";
import { checkJournal, copyOf, getBatch, getJournal, lookups } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Page, Problems } from "@/ui/Page";
import { TracePanel } from "@/ui/trace/TracePanel";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { openTrace } from "@/app/lib/trace";
import { JournalBeside } from "./JournalBeside";
import { JournalEditor } from "./JournalEditor";
import { PostedJournal } from "./PostedJournal";
import { WaitingJournal } from "./WaitingJournal";

export default async function JournalPage({
  params,
  searchParams,
}: {
  params: Promise<{ key: string }>;
  searchParams: SearchParams;
}) {
  const { key } = await params;
  const { address, place } = await readAddress(searchParams);
  const caller = await pageCaller();
  const refusal = (title: string, messages: string[]) => (
    <Page strip={<PeriodStrip />} title={title}>
      <Problems messages={messages} />
    </Page>
  );
  if (key === "new") {
    const found = await lookups(caller, { company: place.company, period: place.period });
    if (!found.ok) return refusal("New journal", found.problems.map(describeFound));
    const frame = await frameData();
    const company = frame.companies.find((c) => c.code === place.company);
    const period = company?.periods.find((p) => p.key === place.period);
    const inPeriod =
      period && (frame.today < period.start || frame.today > period.end) ? period.end : frame.today;
    let content = journalInput({
      company: place.company,
      type: found.value.types[0]?.code ?? "general",
      date: dateText(inPeriod),
    });
    if (address.copy) {
      const earlier = await getJournal(caller, { key: address.copy });
      if (earlier.ok) content = { ...copyOf(earlier.value, place.company), date: content.date };
    }
    const into = address.batch ? await getBatch(caller, { id: Number(address.batch) || 0 }) : null;
    const batch =
      into?.ok && into.value.status === "draft"
        ? { id: into.value.id, name: into.value.name, period: into.value.period }
        : null;
    return (
      <JournalEditor
        batch={batch}
        key={`new-${place.company}-${address.copy ?? ""}`}
        start={{ id: null, version: 0, content, savedAt: null, check: null }}
        lookups={found.value}
        currency={company?.currency ?? "EUR"}
        mayPost={frame.person.rights.includes("post.ledger")}
      />
    );
  }
  const result = await getJournal(caller, { key: decodeURIComponent(key) });
  if (!result.ok) return refusal("Journal", result.problems.map(describeFound));
  const journal = result.value;
  if (journal.kind === "draft" && journal.status === "waiting") {
    const approval = await approvalOf(caller, { id: journal.id });
    const check = await checkJournal(caller, journalInput(journal.content));
    return (
      <WaitingJournal
        journal={{ ...journal, content: journalInput(journal.content) }}
        approval={approval.ok ? approval.value : null}
        check={check.ok ? check.value : null}
      />
    );
  }
  if (journal.kind === "draft" && journal.mayChange) {
    const found = await lookups(caller, { company: journal.company, period: place.period });
    if (!found.ok) return refusal("Journal", found.problems.map(describeFound));
    const check = await checkJournal(caller, journalInput(journal.content));
    return (
      <JournalEditor
        batch={journal.batch}
        key={journal.id}
        start={{
          id: journal.id,
          version: journal.version,
          content: journalInput(journal.content),
          savedAt: journal.savedAt,
          check: check.ok ? check.value : null,
        }}
        lookups={found.value}
        currency={journal.currency}
        mayPost={journal.mayPost}
      />
    );
  }
  if (journal.kind === "draft")
    return refusal(journal.content.description || "Draft", [
      "This journal is still a draft, and only those who prepare journals can open it.",
    ]);
  const open = await openTrace(address, {
    ...place,
    company: journal.company,
    period: journal.period,
    from: journal.period,
  });
  const beside =
    address.beside && !address.trace ? await getJournal(caller, { key: address.beside }) : null;
  return (
    <PostedJournal
      journal={journal}
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
    />
  );
}
