import { object, string, type AnySchema } from "yup";
import type { ListPage } from "@/core/lists";
import type { UseCase } from "@/server/access";
import { map, type Endpoint } from "./endpoint";

/** As many as a program is given at once, where it doesn't say. */
const AT_ONCE = 1000;

/** What every list of documents can be asked. */
export const LIST_QUERY = {
  company: string().required(),
  from: string(),
  to: string(),
  status: string(),
  text: string(),
  limit: string().matches(/^\d{1,4}$/),
  after: string(),
};

/**
 * The address of a list of documents: a page of it, and in `next` what the following page is asked
 * with as `after`, where there is one.
 */
export const listEndpoint = <R>({
  path,
  summary,
  list,
  query = {},
  within,
  item,
  example,
}: {
  path: string;
  summary: string;
  list: UseCase<ListPage<R>>;
  query?: Record<string, AnySchema>;
  /** What the parts of the address say, where the list is of something else than a company. */
  within?: (path: Readonly<Record<string, string>>) => object;
  item: (row: R) => object;
  example: object;
}): Endpoint => ({
  method: "get",
  path,
  summary: `${summary}. As many as limit says (at most 5000), and in next what goes on with as after; count is said with the first`,
  query: object({ ...LIST_QUERY, ...query }).omit(within ? ["company", "from", "to"] : []),
  example: { items: [example], next: null },
  handle: async ({ caller, path: named, query: asked }) =>
    map(
      await list(caller, {
        ...asked,
        ...within?.(named),
        limit: Number(asked.limit ?? AT_ONCE),
      }),
      ({ rows, next, count }) => ({
        items: rows.map(item),
        ...(count === null ? {} : { count }),
        ...(next === null ? {} : { next }),
      }),
    ),
});
