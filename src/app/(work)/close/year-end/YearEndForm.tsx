"use client";
import { FieldForm } from "@/app/lib/FieldForm";
import { useRunForm } from "@/app/lib/useProposeRun";
import { useWork } from "@/ui/frame/work";

export function YearEndForm() {
  const work = useWork();
  const years = [...new Set(work.company?.periods.map((p) => p.year) ?? [])];
  const { propose, open } = useRunForm("year-end");
  return (
    <FieldForm
      name="year-end"
      className="max-w-2xl"
      columns={2}
      says={
        <>
          For {work.company?.name}, book {work.place.book}. You see every account and the exact
          journal before anything is posted. Results that arrive in the year later are carried by
          themselves.
        </>
      }
      fields={[
        {
          key: "year",
          label: "Year",
          kind: "select",
          options: years.map((y) => ({ value: y, text: y })),
        },
        { key: "retainedEarnings", label: "Retained earnings account", kind: "text" },
        {
          key: "byDimension",
          label: "Keep cost centres and projects apart in retained earnings",
          kind: "check",
          wide: true,
        },
      ]}
      start={{
        year: years.at(-2) ?? years.at(-1) ?? "",
        retainedEarnings: "3210",
        byDimension: false,
      }}
      mayChange={years.length > 0}
      button="Propose"
      main
      job={(values) => propose({ ...values, book: work.place.book })}
      then={open}
    />
  );
}
