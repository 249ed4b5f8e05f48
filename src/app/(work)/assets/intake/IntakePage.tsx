"use client";
import Link from "next/link";
import { useCallback, useMemo, useState } from "react";
import { documentPage } from "@/core/documents";
import { INTO_NAMES } from "@/core/assets";
import type { CalendarDate } from "@/core/shared";
import type { Intake, IntakeLine } from "@/server/assets";
import { useProposeRun } from "@/app/lib/useProposeRun";
import type { Option } from "@/ui/form/Choice";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useWork } from "@/ui/frame/work";
import { Empty, Fact, Page, Problems } from "@/ui/Page";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { usePrimaryKeys } from "@/ui/usePrimaryKeys";
import { shownAmount, shownDate } from "@/ui/writing";
import { LinesPanel } from "./LinesPanel";

/** What is booked for assets and waits to become one: people say of each line what it is. */
export function IntakePage({
  intake: { lines, clearing },
  classes,
  on,
}: {
  intake: Intake;
  classes: readonly Option[];
  /** The day on which it would be taken in. */
  on: CalendarDate;
}) {
  const work = useWork();
  const { busy, messages, propose } = useProposeRun("asset-intake");
  const [chosen, setChosen] = useState<string[]>([]);
  const currency = work.company?.currency ?? "EUR";
  const mayPost = work.may("post.assets");
  const ready = lines.filter((l) => stateOf(l, lines) === "ready");
  const run = useCallback(
    () => void (mayPost && ready.length > 0 && propose({ date: on })),
    [mayPost, ready.length, propose, on],
  );
  usePrimaryKeys(undefined, run);
  const columns = useMemo(() => columnsOf(lines, work), [lines, work]);
  const selected = lines.filter((l) => chosen.includes(String(l.id)));
  const held = clearing.held;
  return (
    <Page
      strip={<PeriodStrip />}
      title="Intake of assets"
      note="booked, and waiting to become an asset"
      panel={
        selected.length > 0 && work.may("prepare.assets") ? (
          <LinesPanel
            key={selected.map((l) => `${l.id} ${l.version}`).join()}
            lines={selected}
            classes={classes}
            currency={currency}
          />
        ) : null
      }
      actions={
        mayPost && (
          <button
            type="button"
            className="button button-main"
            disabled={busy || ready.length === 0}
            onClick={run}
            data-keys="Ctrl Shift Enter=Preview what is complete"
          >
            {ready.length === 0
              ? "Nothing is complete yet"
              : `Preview ${ready.length} complete ${ready.length === 1 ? "line" : "lines"}`}{" "}
            <kbd>Ctrl ⇧ ⏎</kbd>
          </button>
        )
      }
      footer={
        <>
          <Fact label="Waiting">
            {shownAmount(
              lines.reduce((t, l) => t + l.amount, 0n),
              currency,
            )}{" "}
            {currency}
          </Fact>
          {clearing.accounts.length > 0 && (
            <Fact
              label={`On ${clearing.accounts.join(", ")}`}
              tone={held === clearing.listed ? "good" : "bad"}
            >
              {shownAmount(held, currency)}
            </Fact>
          )}
          <span className="text-ink-2">
            Choose lines to say what they are; they are taken in on {shownDate(on)}.
          </span>
        </>
      }
    >
      <Problems messages={messages} />
      <DataTable
        name="asset-intake"
        rows={lines}
        columns={columns}
        rowKey={(l) => String(l.id)}
        currency={currency}
        selectable={work.may("prepare.assets")}
        onSelect={setChosen}
        empty={
          <Empty title="Nothing waits">
            What invoices and journals book on a clearing account of assets, or on an account of
            assets itself, comes here by itself.
          </Empty>
        }
      />
    </Page>
  );
}

/** Where a line stands: merged ones go with the one whose facts hold. */
function stateOf(line: IntakeLine, lines: readonly IntakeLine[]): "ready" | "needs" | "aside" {
  const lead =
    line.mergedInto === null ? line : (lines.find((l) => l.id === line.mergedInto) ?? line);
  if (line.aside || lead.aside) return "aside";
  return lead.missing.length === 0 ? "ready" : "needs";
}

function columnsOf(
  lines: readonly IntakeLine[],
  work: ReturnType<typeof useWork>,
): TableColumn<IntakeLine>[] {
  const leadOf = (l: IntakeLine) =>
    l.mergedInto === null ? null : (lines.find((x) => x.id === l.mergedInto) ?? null);
  const state = (l: IntakeLine) => {
    const lead = leadOf(l);
    if (l.aside) return `set aside: ${l.aside}`;
    if (lead) return `goes with ${lead.content.description}`;
    return l.missing.length === 0 ? "complete" : `needs ${l.missing.join(", ")}`;
  };
  return [
    {
      key: "date",
      header: "Date",
      width: 92,
      value: (l) => l.source.date,
      cell: (l) => shownDate(l.source.date),
    },
    {
      key: "source",
      header: "From",
      width: 112,
      value: (l) => l.source.document?.number ?? l.source.journal.number,
      cell: (l) => {
        const { document, journal } = l.source;
        return (
          <Link
            className="link"
            href={work.link(
              document
                ? documentPage(document.kind, document.id)
                : documentPage("journal", journal.id),
            )}
          >
            {document?.number ?? journal.number}
          </Link>
        );
      },
    },
    { key: "description", header: "Description", value: (l) => l.content.description },
    {
      key: "state",
      header: "State",
      width: 190,
      value: state,
      cell: (l) => (
        <span className={stateOf(l, lines) === "ready" ? "" : "text-ink-2"}>{state(l)}</span>
      ),
    },
    {
      key: "becomes",
      header: "Becomes",
      width: 88,
      value: (l) =>
        l.content.into === "asset"
          ? l.content.class || "not said"
          : `${INTO_NAMES[l.content.into].split(",")[0]!} ${l.content.asset ?? l.content.account ?? ""}`,
    },
    {
      key: "inService",
      header: "In service",
      width: 92,
      value: (l) => l.content.inService ?? "",
      cell: (l) => (l.content.inService ? shownDate(l.content.inService) : ""),
    },
    {
      key: "costCentre",
      header: "Cost centre",
      width: 88,
      value: (l) => l.content.dimensions.costCentre ?? "",
    },
    { key: "partner", header: "Supplier", width: 120, value: (l) => l.source.partner },
    {
      key: "place",
      header: "Place",
      width: 110,
      hidden: true,
      value: (l) => l.content.place ?? "",
    },
    { key: "account", header: "Account", width: 70, value: (l) => l.source.account },
    {
      key: "amount",
      header: "Amount",
      width: 108,
      align: "right",
      sum: true,
      value: (l) => l.amount,
    },
  ];
}
