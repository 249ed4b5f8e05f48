"use client";
import { Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/react";
import { dateText, readDate, type CalendarDate } from "@/core/shared";
import type { LossMatrix, WriteOffRow } from "@/server/receivables";
import { FieldForm } from "@/app/lib/FieldForm";
import { useRunForm } from "@/app/lib/useProposeRun";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useWork } from "@/ui/frame/work";
import { Fact, Page } from "@/ui/Page";
import { shownAmount, shownDate, shownFigures } from "@/ui/writing";
import { WriteOffs } from "./WriteOffs";

interface Props {
  /** The day that the matrix is of, and the one that a run is of. */
  on: CalendarDate;
  end: CalendarDate;
  matrix: LossMatrix;
  writeOffs: readonly WriteOffRow[];
}

const TAB =
  "h-9 font-semibold text-ink-2 data-selected:text-ink data-selected:shadow-[inset_0_-3px_var(--color-yellow)] outline-offset-[-2px]";

/** What is owed by age, what of such was lost in three years, and the run that provides for it. */
export function LossesPage({ on, end, matrix, writeOffs }: Props) {
  const work = useWork();
  const { currency, groups } = matrix;
  const owed = groups.flatMap((g) => g.cells).reduce((t, c) => t + c.owed, 0n);
  return (
    <Page
      strip={<PeriodStrip />}
      title="Expected credit losses"
      note={`on ${shownDate(on)}`}
      footer={
        <>
          <Fact label="Owed">{shownAmount(owed, currency)}</Fact>
          <Fact label="Customers’ credits">{shownAmount(matrix.credits, currency)}</Fact>
          <Fact apart label={`Receivables ${currency}`}>
            {shownAmount(owed + matrix.credits, currency)}
          </Fact>
        </>
      }
    >
      <div className="flex min-h-0 flex-1 gap-2.5">
        {work.may("post.receivables") && <Asking end={end} groups={groups} />}
        <TabGroup className="flex min-h-0 min-w-0 flex-1 flex-col gap-2">
          <TabList className="flex gap-5 border-b border-line px-1">
            <Tab className={TAB}>Rates and what is owed</Tab>
            <Tab className={TAB}>Written off {writeOffs.length}</Tab>
          </TabList>
          <TabPanels className="flex min-h-0 flex-1 flex-col">
            <TabPanel className="panel min-h-0 flex-1 overflow-auto" aria-label="Matrix">
              <Matrix matrix={matrix} />
            </TabPanel>
            <TabPanel className="flex min-h-0 flex-1 flex-col">
              <WriteOffs rows={writeOffs} currency={currency} />
            </TabPanel>
          </TabPanels>
        </TabGroup>
      </div>
    </Page>
  );
}

function Asking({ end, groups }: { end: CalendarDate; groups: LossMatrix["groups"] }) {
  const work = useWork();
  const { propose, open } = useRunForm("credit-losses");
  return (
    <FieldForm
      name="losses"
      title="Provide for losses"
      says="Each item at the rate of its group and age. A group can be expected to do worse or better than in the past: by so many per cent of its rates."
      className="w-[290px] shrink-0 self-start"
      fields={[
        { key: "date", label: "On", kind: "date", required: true },
        ...groups.map((g) => ({
          key: `forward.${g.code}`,
          label: `${g.name}, %`,
          kind: "figure" as const,
          placeholder: "0",
        })),
      ]}
      start={{
        date: dateText(end),
        ...Object.fromEntries(groups.map((g) => [`forward.${g.code}`, ""])),
      }}
      button="Preview the run"
      main
      job={(v) =>
        propose({
          date: readDate(String(v.date ?? ""), work.today) ?? v.date,
          forward: Object.fromEntries(
            groups.map((g) => [g.code, String(v[`forward.${g.code}`] ?? "").trim()]),
          ),
        })
      }
      then={open}
    />
  );
}

/** Groups by ages: what is owed, the rate, and what it comes of. */
function Matrix({ matrix: { groups, buckets, currency } }: { matrix: LossMatrix }) {
  return (
    <table className="sheet">
      <thead>
        <tr>
          <th>Group</th>
          {buckets.map((b) => (
            <th key={b} className="num">
              {b}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {groups.map((g) => (
          <tr key={g.code} className="align-top">
            <td className="font-semibold">{g.name}</td>
            {g.cells.map((c, i) => (
              <td key={buckets[i]} className="num">
                <div className="font-semibold">{shownAmount(c.owed, currency)}</div>
                <div>{shownFigures(c.rate)} %</div>
                <div
                  className="text-xs text-ink-2"
                  title={`${shownAmount(c.lost, currency)} of ${shownAmount(c.reached, currency)} that came to be so old in three years were lost`}
                >
                  {c.ofAll
                    ? "as all customers"
                    : c.lost === 0n
                      ? "nothing lost"
                      : `${shownAmount(c.lost, currency)} lost`}
                </div>
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
