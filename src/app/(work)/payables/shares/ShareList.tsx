"use client";
import { useState } from "react";
import { useAct } from "@/app/lib/useAct";
import { useWork } from "@/ui/frame/work";
import { Empty, Page, Problems } from "@/ui/Page";
import { SidePanel } from "@/ui/panel/SidePanel";
import { saveSharesAction } from "../orders/actions";
import { SHARE_WAYS, type ShareSet } from "@/core/shares";
import { FigureField } from "@/ui/FigureField";

type Target = ShareSet["targets"][number];
const target = (): Target => ({ company: "", account: "", dimensions: {}, weight: "" });

/**
 * How a cost is split over cost centres, projects or companies: saved once, used by its code on any
 * invoice line.
 */
export function ShareList({ rows, mayChange }: { rows: ShareSet[]; mayChange: boolean }) {
  const [chosen, setChosen] = useState<ShareSet | null>(null);
  return (
    <Page
      title="Shares"
      note="how a cost is split; used by code on invoice lines"
      panel={
        chosen && (
          <ShareForm
            key={chosen.code || "new"}
            start={chosen}
            mayChange={mayChange}
            onClose={() => setChosen(null)}
          />
        )
      }
      actions={
        mayChange && (
          <button
            type="button"
            className="button button-main"
            onClick={() =>
              setChosen({ code: "", name: "", way: "per cent", targets: [target(), target()] })
            }
          >
            Add shares
          </button>
        )
      }
    >
      <div className="panel min-h-0 flex-1 overflow-auto">
        {rows.length === 0 ? (
          <Empty title="No shares yet">
            An insurance premium over three cost centres, heating by floor area: the split is
            written once.
          </Empty>
        ) : (
          <table className="sheet">
            <thead>
              <tr>
                <th className="w-32">Code</th>
                <th className="w-64">Name</th>
                <th className="w-32">Basis</th>
                <th>Shared among</th>
              </tr>
            </thead>
            <tbody>
              {rows.map((r) => (
                <tr key={r.code}>
                  <td>
                    <button
                      type="button"
                      className="link font-semibold"
                      onClick={() => setChosen(r)}
                    >
                      {r.code}
                    </button>
                  </td>
                  <td>{r.name}</td>
                  <td>{r.way}</td>
                  <td>
                    {r.targets
                      .map(
                        (t) =>
                          `${[t.company, t.account, ...Object.values(t.dimensions)].filter(Boolean).join(" ")} ${t.weight || "the rest"}`,
                      )
                      .join(" · ")}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </div>
    </Page>
  );
}

function ShareForm({
  start,
  mayChange,
  onClose,
}: {
  start: ShareSet;
  mayChange: boolean;
  onClose: () => void;
}) {
  const work = useWork();
  const { busy, messages, act } = useAct();
  const [set, setSet] = useState(start);
  const change = (at: number, more: Partial<Target>) =>
    setSet((s) => ({ ...s, targets: s.targets.map((t, i) => (i === at ? { ...t, ...more } : t)) }));
  const sum = set.targets.reduce((t, x) => t + (Number(x.weight) || 0), 0);
  return (
    <SidePanel title={set.name || "New shares"} onClose={onClose} width={480}>
      <Problems messages={messages} />
      <form
        className="grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          void act(
            () =>
              saveSharesAction({
                ...set,
                targets: set.targets.filter(
                  (t) =>
                    t.weight !== "" ||
                    t.account ||
                    t.company ||
                    Object.values(t.dimensions).some(Boolean),
                ),
              }),
            "Saved.",
            onClose,
          );
        }}
      >
        <div className="flex gap-2">
          <div className="w-32">
            <label className="label" htmlFor="s-code">
              Code
            </label>
            <input
              id="s-code"
              className="field"
              autoFocus={!start.code}
              readOnly={start.code !== ""}
              value={set.code}
              onChange={(e) => setSet({ ...set, code: e.target.value })}
            />
          </div>
          <div className="flex-1">
            <label className="label" htmlFor="s-name">
              Name
            </label>
            <input
              id="s-name"
              className="field"
              value={set.name}
              onChange={(e) => setSet({ ...set, name: e.target.value })}
            />
          </div>
        </div>
        <div>
          <label className="label" htmlFor="s-way">
            Basis
          </label>
          <select
            id="s-way"
            className="field"
            value={set.way}
            onChange={(e) => setSet({ ...set, way: e.target.value as ShareSet["way"] })}
          >
            {SHARE_WAYS.map((w) => (
              <option key={w}>{w}</option>
            ))}
          </select>
        </div>
        <table className="w-full text-left">
          <thead>
            <tr className="text-xs text-ink-2">
              <th>Company</th>
              <th>Account</th>
              {work.dimensions.map((d) => (
                <th key={d.code}>{d.name}</th>
              ))}
              <th className="text-right">Share</th>
            </tr>
          </thead>
          <tbody>
            {set.targets.map((t, i) => (
              <tr key={i}>
                <td>
                  <input
                    aria-label={`Company ${i + 1}`}
                    className="field"
                    placeholder="own"
                    value={t.company}
                    onChange={(e) => change(i, { company: e.target.value.toUpperCase() })}
                  />
                </td>
                <td>
                  <input
                    aria-label={`Account ${i + 1}`}
                    className="field"
                    placeholder="own"
                    value={t.account}
                    onChange={(e) => change(i, { account: e.target.value })}
                  />
                </td>
                {work.dimensions.map((d) => (
                  <td key={d.code}>
                    <input
                      aria-label={`${d.name} ${i + 1}`}
                      className="field"
                      value={t.dimensions[d.code] ?? ""}
                      onChange={(e) =>
                        change(i, {
                          dimensions: { ...t.dimensions, [d.code]: e.target.value.toUpperCase() },
                        })
                      }
                    />
                  </td>
                ))}
                <td>
                  <FigureField
                    aria-label={`Share ${i + 1}`}
                    className="field text-right"
                    placeholder={set.way === "fixed amounts" ? "the rest" : ""}
                    value={t.weight}
                    onChange={(weight) => change(i, { weight })}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <p className="flex justify-between">
          <button
            type="button"
            className="link"
            onClick={() => setSet({ ...set, targets: [...set.targets, target()] })}
          >
            Add a target
          </button>
          <span className={set.way === "per cent" && sum !== 100 ? "text-coral" : "text-ink-2"}>
            Total {Math.round(sum * 10_000) / 10_000}
            {set.way === "per cent" ? " %" : ""}
          </span>
        </p>
        {mayChange && (
          <button type="submit" className="button button-main justify-self-start" disabled={busy}>
            Save
          </button>
        )}
      </form>
    </SidePanel>
  );
}
