import { object, string } from "yup";
import { ok, type Result } from "@/core/shared";
import { setStatus } from "../documents";
import { defineUseCase } from "../access";
import { ACT, runToActOn } from "./actOnRun";
import { releaseItems } from "./taking";

export const discardRun = defineUseCase({
  name: "discardRun",
  kind: "write",
  rights: ACT,
  what: "discard previews",
  of: "checked",
  schema: object({ key: string().required().max(40) }),
  run: async (context, { key }): Promise<Result<{ id: number }>> => {
    const found = await runToActOn(context, key, "discard this preview");
    if (!found.ok) return found;
    const { definition, id, params, number, company } = found.value;
    if (!definition.parts) {
      const free = await definition.changing?.(context, { id, params, next: null });
      if (free && !free.ok) return free;
    }
    await releaseItems(context.tx, id);
    await setStatus(context.tx, [id], "discarded");
    await context.audit({
      action: "discarded",
      kind: "run",
      recordId: id,
      label: number,
      companyId: context.masters.companyByCode.get(company)!.id,
    });
    return ok({ id });
  },
});
