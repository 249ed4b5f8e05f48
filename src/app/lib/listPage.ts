import "server-only";
import type { ListPage } from "@/core/lists";
import { readPreferences } from "@/server/access";
import type { ListName } from "./listActions";
import { pageCaller } from "./session";
import type { Asked, StartOfList } from "./useListPages";

/** What the component of a list begins with: its first page, and what the person keeps for it. */
export async function startOfList<R>(
  name: ListName,
  page: ListPage<R>,
  asked: Partial<Asked> & Record<string, unknown>,
): Promise<StartOfList<R>> {
  const preferences = await readPreferences(await pageCaller());
  const kept = preferences.ok ? preferences.value : {};
  return {
    page,
    asked: asked as StartOfList<R>["asked"],
    kept: { columns: kept[`table.${name}`], filters: kept[`filters.${name}`] },
  };
}
