"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { toast } from "sonner";
import { Empty } from "@/ui/Page";
import { saveRecordAction } from "../actions";

/** Where there are no statements yet: they can be made of the chart's own headings. */
export function NoOutlines({ mayChange }: { mayChange: boolean }) {
  const router = useRouter();
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState("");
  const make = async () => {
    setBusy(true);
    const result = await saveRecordAction("outlines", {}).catch(() => null);
    setBusy(false);
    setProblem(result?.ok ? "" : (result?.message ?? "The server did not answer. Try again."));
    if (!result?.ok) return;
    toast.success("The income statement and the balance sheet are made.");
    router.refresh();
  };
  return (
    <div className="panel flex-1">
      <Empty title="There are no statements yet">
        An income statement and a balance sheet can be made of the chart: a line for each heading of
        the second level, a total for each of the first. Their lines can be changed afterwards.
      </Empty>
      {mayChange && (
        <p className="grid justify-items-center gap-2 pb-6">
          <button
            type="button"
            className="button button-main"
            disabled={busy}
            onClick={() => void make()}
          >
            Make them from the headings
          </button>
          <span role="alert" className="text-coral">
            {problem}
          </span>
        </p>
      )}
    </div>
  );
}
