"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { toast } from "sonner";
import { INTO, INTO_NAMES, type Into } from "@/core/assets";
import type { IntakeLine } from "@/server/assets";
import type { Answer } from "@/app/lib/answer";
import { FieldForm } from "@/app/lib/FieldForm";
import type { RecordField, RecordValues } from "@/ui/form";
import type { Option } from "@/ui/form/Choice";
import { useWork } from "@/ui/frame/work";
import { Problems } from "@/ui/Page";
import { PanelFrame } from "@/ui/panel/PanelFrame";
import { shownAmount } from "@/ui/writing";
import {
  fillIntakeAction,
  mergeIntakeAction,
  setIntakeAsideAction,
  splitIntakeAction,
} from "../actions";

const WRITTEN = [
  "class",
  "description",
  "inService",
  "place",
  "person",
  "serial",
  "quantity",
  "asset",
  "account",
] as const;
/** Which fields count with what a line becomes. */
const FIELDS: Readonly<Record<Into, readonly string[]>> = {
  asset: ["class", "description", "inService", "place", "person", "serial", "quantity"],
  addition: ["asset", "inService"],
  correction: ["asset"],
  expense: ["account", "description"],
};

/** What the chosen lines are to become: said of one, or of many at once. */
export function LinesPanel({
  lines,
  classes,
  currency,
}: {
  lines: readonly IntakeLine[];
  classes: readonly Option[];
  currency: string;
}) {
  const work = useWork();
  const router = useRouter();
  const [messages, setMessages] = useState<string[]>([]);
  const { company } = work.place;
  const chosen = lines.map(({ id, version }) => ({ id, version }));
  const [one] = lines;
  const several = lines.length > 1;
  const act = async (job: Promise<Answer<unknown>>, done: string) => {
    const result = await job.catch(() => null);
    if (!result?.ok)
      return setMessages(
        result?.problems.map((p) => p.message) ?? ["The server did not answer. Try again."],
      );
    toast.success(done);
    router.refresh();
  };
  const merged = lines.some((l) => l.mergedInto !== null) || several;
  const dimensions = work.dimensions.map((d): RecordField => ({
    key: `d.${d.code}`,
    label: d.name,
    kind: "text",
  }));
  const start = startOf(lines, work.dimensions);
  const content = (v: RecordValues) => {
    const said = Object.fromEntries(
      WRITTEN.filter((key) => FIELDS[v.into as Into].includes(key))
        .filter((key) => !several || v[key] !== "")
        .map((key) => [key, v[key]]),
    );
    const coding = Object.fromEntries(
      work.dimensions
        .filter((d) => !several || v[`d.${d.code}`] !== "")
        .map((d) => [d.code, v[`d.${d.code}`]]),
    );
    return { into: v.into, ...said, dimensions: coding };
  };
  return (
    <PanelFrame label="Chosen lines" name="beside" width={340}>
      <div className="flex min-h-0 flex-1 flex-col gap-4 overflow-y-auto px-4 py-3.5">
        <h2>
          {several ? `${lines.length} lines` : one!.source.description},{" "}
          {shownAmount(
            lines.reduce((t, l) => t + l.amount, 0n),
            currency,
          )}{" "}
          {currency}
        </h2>
        <Problems messages={messages} />
        <FieldForm
          name="line"
          className="border-0! p-0!"
          fields={[
            {
              key: "into",
              label: "Becomes",
              kind: "select",
              options: INTO.map((i) => ({ value: i, text: INTO_NAMES[i] })),
            },
            { key: "class", label: "Class", kind: "select", options: [NONE, ...classes] },
            { key: "asset", label: "Number of the asset", kind: "text" },
            { key: "account", label: "Account of the expense", kind: "text" },
            { key: "description", label: "Description", kind: "text" },
            { key: "inService", label: "In service from", kind: "date" },
            ...dimensions,
            { key: "place", label: "Place", kind: "text" },
            { key: "person", label: "Person in charge", kind: "text" },
            { key: "serial", label: "Serial number", kind: "text" },
            { key: "quantity", label: "Quantity", kind: "figure" },
          ]}
          shows={(v) => [
            "into",
            ...FIELDS[v.into as Into],
            ...(v.into === "asset" || v.into === "expense" ? dimensions.map((d) => d.key) : []),
          ]}
          start={start}
          button={several ? `Fill ${lines.length} lines` : "Keep"}
          main
          job={(v) => fillIntakeAction({ company, lines: chosen, content: content(v) })}
          done={several ? "Filled." : "Kept."}
        />
        {several && <p className="text-ink-2">What is left empty stays as each of them has it.</p>}
        {merged && (
          <div className="flex flex-wrap gap-2">
            {several && (
              <button
                type="button"
                className="button"
                onClick={() =>
                  void act(
                    mergeIntakeAction({ company, lines: chosen, into: one!.id }),
                    `They become one asset, with what “${one!.content.description}” says.`,
                  )
                }
              >
                Merge into “{one!.content.description.slice(0, 24)}”
              </button>
            )}
            {lines.some((l) => l.mergedInto !== null) && (
              <button
                type="button"
                className="button"
                onClick={() =>
                  void act(
                    mergeIntakeAction({ company, lines: chosen, into: null }),
                    "Each is its own again.",
                  )
                }
              >
                Apart again
              </button>
            )}
          </div>
        )}
        {!several && (
          <FieldForm
            name="split"
            title="Split"
            className="border-0! p-0!"
            fields={[
              {
                key: "parts",
                label: "Into so many parts, or these amounts",
                kind: "text",
                placeholder: "3, or 500; 700",
              },
            ]}
            start={{ parts: "" }}
            button="Split"
            job={(v) => splitIntakeAction({ company, ...chosen[0]!, parts: v.parts })}
            done="Split."
          />
        )}
        {lines.every((l) => l.aside !== "") ? (
          <button
            type="button"
            className="button self-start"
            onClick={() =>
              void act(
                setIntakeAsideAction({ company, lines: chosen, again: "yes" }),
                "Taken up again.",
              )
            }
          >
            Take up again
          </button>
        ) : (
          <FieldForm
            name="aside"
            title="Set aside"
            className="border-0! p-0!"
            fields={[{ key: "reason", label: "Why", kind: "text" }]}
            start={{ reason: "" }}
            button="Set aside"
            job={(v) => setIntakeAsideAction({ company, lines: chosen, reason: v.reason })}
            done="Set aside."
          />
        )}
      </div>
    </PanelFrame>
  );
}

const NONE: Option = { value: "", text: "as proposed" };

/** What the form begins with: of one line all it says, of several what they have in common. */
function startOf(
  lines: readonly IntakeLine[],
  dimensions: readonly { code: string }[],
): RecordValues {
  const common = (pick: (l: IntakeLine) => string) => {
    const first = pick(lines[0]!);
    return lines.every((l) => pick(l) === first) ? first : "";
  };
  return {
    into: common((l) => l.content.into) || "asset",
    ...Object.fromEntries(WRITTEN.map((key) => [key, common((l) => l.content[key] ?? "")])),
    ...Object.fromEntries(
      dimensions.map(({ code }) => [`d.${code}`, common((l) => l.content.dimensions[code] ?? "")]),
    ),
  };
}
