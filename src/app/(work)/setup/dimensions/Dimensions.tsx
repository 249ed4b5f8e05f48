"use client";
import { useState } from "react";
import { toast } from "sonner";
import { useRouter } from "next/navigation";
import { dimensionValueSchema } from "@/core/organisation";
import { faultsOf, type RecordValues } from "@/ui/form";
import type { DimensionBranch } from "@/server/organisation";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { Status } from "@/ui/Status";
import { FileLoad } from "@/ui/FileLoad";
import { ExportMenu } from "../../statements/[code]/StatementActions";
import { sendTable } from "@/app/lib/sendFile";
import { saveRecordAction } from "../actions";
import { shownDate } from "@/ui/writing";

type Value = DimensionBranch["values"][number];

export function Dimensions({
  all,
  branch,
  people,
  mayChange,
}: {
  all: { code: string; name: string }[];
  branch: DimensionBranch;
  people: { id: number; login: string; name: string }[];
  mayChange: boolean;
}) {
  const work = useWork();
  const others = all.filter((d) => d.code !== branch.code);
  const inputOf = (v: RecordValues) => ({
    ...v,
    dimension: branch.code,
    parent: v.parent || null,
    activeFrom: v.activeFrom || null,
    activeTo: v.activeTo || null,
    responsible: v.responsible || null,
    proposes: Object.fromEntries(
      others.flatMap((d) => {
        const value = String(v[`proposes.${d.code}`] ?? "").trim();
        return value ? [[d.code, value]] : [];
      }),
    ),
  });
  return (
    <RecordPage<Value>
      title={branch.name}
      note={`dimension ${branch.slot} of sixteen, ${branch.code} in the interface for programs`}
      name={`dimension-${branch.code}`}
      rows={branch.values}
      rowKey={(v) => v.code}
      mayChange={mayChange}
      add="Add a value"
      notice={
        <Balancing
          key={`${branch.balancing} ${branch.balancingAccount}`}
          branch={branch}
          mayChange={mayChange}
        />
      }
      empty={
        <Empty title={`No ${branch.name.toLowerCase()} yet`}>
          Add the first; others can lie below it.
        </Empty>
      }
      actions={
        <>
          <select
            aria-label="Dimension"
            className="field w-44"
            value={branch.code}
            onChange={(e) => work.go({ dimension: e.target.value })}
          >
            {all.map((d) => (
              <option key={d.code} value={d.code}>
                {d.name}
              </option>
            ))}
          </select>
          {mayChange && (
            <FileLoad
              label="Load"
              what="values"
              load={sendTable("values", { dimension: branch.code })}
            />
          )}
          <ExportMenu
            path="/export/dimension"
            formats={["csv", "xlsx"]}
            more={{ dimension: branch.code }}
          />
          {mayChange && all.length < 16 && <NewDimension />}
        </>
      }
      columns={[
        {
          key: "code",
          header: "Code",
          width: 170,
          value: (v) => v.code,
          cell: (v) => (
            <b className="font-semibold" style={{ paddingLeft: v.depth * 16 }}>
              {v.code}
            </b>
          ),
        },
        { key: "name", header: "Name", value: (v) => v.name },
        { key: "parent", header: "Parent value", width: 110, value: (v) => v.parent ?? "" },
        {
          key: "from",
          header: "Active from",
          width: 120,
          value: (v) => v.activeFrom ?? "",
          cell: (v) => (v.activeFrom ? shownDate(v.activeFrom) : ""),
        },
        {
          key: "to",
          header: "Active to",
          width: 120,
          value: (v) => v.activeTo ?? "",
          cell: (v) => (v.activeTo ? shownDate(v.activeTo) : ""),
        },
        {
          key: "responsible",
          header: "Responsible",
          width: 170,
          value: (v) => people.find((p) => p.id === v.responsibleId)?.name ?? "",
        },
        {
          key: "state",
          header: "State",
          width: 100,
          value: (v) => (v.blocked ? "only sums" : "active"),
          cell: (v) =>
            v.blocked ? (
              <span className="text-ink-2">only sums</span>
            ) : (
              <Status of="active" quiet />
            ),
        },
      ]}
      fields={[
        { key: "code", label: "Code", kind: "text", required: true, fixed: true },
        { key: "name", label: "Name", kind: "text", required: true },
        {
          key: "parent",
          label: "Below",
          kind: "select",
          options: [
            { value: "", text: "nothing: at the top" },
            ...branch.values.map((v) => ({ value: v.code, text: `${v.code} ${v.name}` })),
          ],
        },
        { key: "activeFrom", label: "Active from", kind: "date" },
        { key: "activeTo", label: "Active to", kind: "date" },
        {
          key: "responsible",
          label: "Responsible",
          kind: "select",
          options: [
            { value: "", text: "nobody" },
            ...people.map((p) => ({ value: p.login, text: p.name })),
          ],
        },
        ...others.map((d) => ({
          key: `proposes.${d.code}`,
          label: `Proposes ${d.name.toLowerCase()}`,
          kind: "text" as const,
          placeholder: "code",
          hint: "Filled in on a journal line with this value, where it is empty.",
        })),
        {
          key: "blocked",
          label: "Only sums what is below it, or is no longer used",
          kind: "check",
        },
      ]}
      toValues={(v) => ({
        code: v?.code ?? "",
        name: v?.name ?? "",
        parent: v?.parent ?? "",
        activeFrom: v?.activeFrom ?? "",
        activeTo: v?.activeTo ?? "",
        responsible: people.find((p) => p.id === v?.responsibleId)?.login ?? "",
        blocked: v?.blocked ?? false,
        ...Object.fromEntries(others.map((d) => [`proposes.${d.code}`, v?.proposes[d.code] ?? ""])),
      })}
      check={(v) => faultsOf(dimensionValueSchema, inputOf(v))}
      save={(v) => saveRecordAction("value", inputOf(v))}
    />
  );
}

/**
 * Whether journals balance for each value of the dimension, as for segments that publish a balance
 * sheet of their own.
 */
function Balancing({ branch, mayChange }: { branch: DimensionBranch; mayChange: boolean }) {
  const router = useRouter();
  const [balancing, setBalancing] = useState(branch.balancing);
  const [account, setAccount] = useState(branch.balancingAccount ?? "");
  const [problem, setProblem] = useState<string | null>(null);
  const changed = balancing !== branch.balancing || account !== (branch.balancingAccount ?? "");
  const save = async () => {
    const result = await saveRecordAction("dimension", {
      code: branch.code,
      name: branch.name,
      balancing,
      balancingAccount: balancing === "add" ? account.trim() : null,
    }).catch(() => null);
    if (!result?.ok) return setProblem(result?.message ?? "The server did not answer. Try again.");
    setProblem(null);
    toast.success("Saved. It holds for what is posted from now on.");
    router.refresh();
  };
  return (
    <form
      className="panel flex flex-wrap items-center gap-2.5 px-3 py-2"
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}
    >
      <label htmlFor="balancing" className="text-ink-2">
        A journal
      </label>
      <select
        id="balancing"
        className="field w-auto"
        disabled={!mayChange}
        value={balancing}
        onChange={(e) => setBalancing(e.target.value as typeof balancing)}
      >
        <option value="no">balances as a whole, whatever its values</option>
        <option value="refuse">has to balance for each value of this dimension</option>
        <option value="add">balances for each value, by lines that are added</option>
      </select>
      {balancing === "add" && (
        <>
          <label htmlFor="balancing-account" className="text-ink-2">
            on account
          </label>
          <input
            id="balancing-account"
            className="field w-28"
            disabled={!mayChange}
            value={account}
            onChange={(e) => setAccount(e.target.value)}
            aria-invalid={problem ? true : undefined}
          />
        </>
      )}
      {mayChange && changed && (
        <button type="submit" className="button">
          Save
        </button>
      )}
      {problem && (
        <span role="alert" className="text-coral">
          {problem}
        </span>
      )}
    </form>
  );
}

function NewDimension() {
  const router = useRouter();
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  if (!open)
    return (
      <button type="button" className="button" onClick={() => setOpen(true)}>
        Add a dimension
      </button>
    );
  const code = name
    .trim()
    .replace(/[^A-Za-z0-9 ]/g, "")
    .replace(/ +(\w)/g, (_m, c: string) => c.toUpperCase())
    .replace(/^./, (c) => c.toLowerCase());
  return (
    <form
      className="flex gap-2"
      onSubmit={async (e) => {
        e.preventDefault();
        const result = await saveRecordAction("dimension", { code, name: name.trim() }).catch(
          () => null,
        );
        if (!result?.ok)
          return toast.error(result?.message ?? "The server did not answer. Try again.");
        setOpen(false);
        router.refresh();
      }}
    >
      <input
        className="field w-40"
        autoFocus
        aria-label="Name of the dimension"
        placeholder="Name"
        value={name}
        onChange={(e) => setName(e.target.value)}
      />
      <button type="submit" className="button">
        Add
      </button>
    </form>
  );
}
