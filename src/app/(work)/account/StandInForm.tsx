"use client";
import { FieldForm } from "@/app/lib/FieldForm";
import { useWork } from "@/ui/frame/work";
import { saveRecordAction } from "../setup/actions";

interface Props {
  now: { login: string; from: string; to: string } | null;
  people: { login: string; name: string }[];
}

/** Who decides on what waits for this person while they are away. */
export function StandInForm({ now, people }: Props) {
  const work = useWork();
  return (
    <FieldForm
      name="standin"
      title="Stand-in for approvals"
      columns={2}
      fields={[
        {
          key: "standIn",
          label: "Stand-in",
          kind: "select",
          options: [
            { value: "", text: "nobody" },
            ...people.map((p) => ({ value: p.login, text: p.name })),
          ],
          wide: true,
        },
        { key: "from", label: "From", kind: "date" },
        { key: "to", label: "To", kind: "date" },
      ]}
      start={{
        standIn: now?.login ?? "",
        from: now?.from ?? work.today,
        to: now?.to ?? work.today,
      }}
      button="Save"
      job={({ standIn, ...dates }) =>
        saveRecordAction("standIn", { standIn: standIn || null, ...dates })
      }
      done={({ standIn }) =>
        standIn
          ? "Saved. What waits for you in that time waits for your stand-in too."
          : "Nobody stands in for you."
      }
    />
  );
}
