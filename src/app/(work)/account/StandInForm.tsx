"use client";
import { useState } from "react";
import { toast } from "sonner";
import { useWork } from "@/ui/frame/work";
import { Problems } from "@/ui/Page";
import { saveRecordAction } from "../setup/actions";
import { DateField } from "@/ui/date/DateField";

/** Who decides on what waits for this person while they are away. */
export function StandInForm({
  now,
  people,
}: {
  now: { login: string; from: string; to: string } | null;
  people: { login: string; name: string }[];
}) {
  const work = useWork();
  const [standIn, setStandIn] = useState(now?.login ?? "");
  const [from, setFrom] = useState(now?.from ?? work.today);
  const [to, setTo] = useState(now?.to ?? work.today);
  const [messages, setMessages] = useState<string[]>([]);
  const save = async () => {
    const result = await saveRecordAction("standIn", { standIn: standIn || null, from, to }).catch(
      () => null,
    );
    if (!result) return setMessages(["The server did not answer. Try again."]);
    if (!result.ok) return setMessages(result.problems.map((p) => p.message));
    setMessages([]);
    toast.success(
      standIn
        ? "Saved. What waits for you in that time waits for your stand-in too."
        : "Nobody stands in for you.",
    );
  };
  return (
    <form
      className="panel grid content-start gap-3 p-4"
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}
    >
      <Problems messages={messages} />
      <div>
        <label className="label" htmlFor="standin">
          Stands in for me, in approving
        </label>
        <select
          id="standin"
          className="field"
          value={standIn}
          onChange={(e) => setStandIn(e.target.value)}
        >
          <option value="">nobody</option>
          {people.map((p) => (
            <option key={p.login} value={p.login}>
              {p.name}
            </option>
          ))}
        </select>
      </div>
      <div className="grid grid-cols-2 gap-3">
        <div>
          <label className="label" htmlFor="standin-from">
            From
          </label>
          <DateField as="day" id="standin-from" value={from} onChange={(text) => setFrom(text)} />
        </div>
        <div>
          <label className="label" htmlFor="standin-to">
            To
          </label>
          <DateField as="day" id="standin-to" value={to} onChange={(text) => setTo(text)} />
        </div>
      </div>
      <div>
        <button type="submit" className="button">
          Save
        </button>
      </div>
    </form>
  );
}
