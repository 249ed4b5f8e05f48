"use client";
import { useState } from "react";
import { useWork } from "@/ui/frame/work";
import { FileLoad } from "@/ui/FileLoad";
import { sendTable } from "@/app/lib/sendFile";
import { DateField } from "@/ui/date/DateField";

export function OpeningForm() {
  const work = useWork();
  const [date, setDate] = useState(work.company?.periods[0]?.start ?? work.today);
  return (
    <div className="panel grid max-w-2xl gap-3 p-4">
      <p className="text-ink-2">
        For {work.company?.name}, in {work.company?.currency}. The file (CSV or XLSX) has a first
        row of headings: account, debit, credit (in {work.company?.currency}), and where wanted
        currency with the amount in it as foreign, partner, due date, reference, description,{" "}
        {work.dimensions.map((d) => d.name.toLowerCase()).join(", ")}. Control accounts may be
        opened here, one line for each open item. Everything is checked first; a journal that does
        not balance is refused, and a posted one can be reversed.
      </p>
      <div>
        <label className="label" htmlFor="opening-date">
          Date of the opening
        </label>
        <DateField
          as="day"
          id="opening-date"
          className="w-44"
          value={date}
          onChange={(text) => setDate(text)}
        />
      </div>
      <div>
        <FileLoad
          label="Check a file"
          what="lines"
          load={sendTable("opening", { company: work.place.company, date })}
        />
      </div>
    </div>
  );
}
