import type { ObjectSchema } from "yup";
import { ok } from "@/core/shared";
import type { UseCase } from "@/server/access";
import { companyList } from "@/server/organisation";
import { idIn, type Endpoint } from "./endpoint";
import { plain } from "./plain";

interface Options {
  example?: unknown;
  /** What parts of the address are called in the use case, where that is another name. */
  as?: Record<string, string>;
  /** Fields of the answer that hold quantities, in thousandths. */
  quantities?: readonly string[];
  status?: number;
  /** Input that the address stands for. */
  fixed?: Record<string, unknown>;
}

/**
 * An address that asks one use case: the parts of the address, and the query or the body, are its
 * input, checked by its own schema. Lists come under "items".
 */
export function asks(
  method: "get" | "post",
  path: string,
  question: UseCase<unknown>,
  summary: string,
  options: Options = {},
): Endpoint {
  const parts = [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => name!);
  const inner = (part: string) => options.as?.[part] ?? part;
  const given = [...parts.map(inner), ...Object.keys(options.fixed ?? {})];
  const schema = (question.definition.schema as ObjectSchema<Record<string, unknown>>).omit(given);
  return {
    method,
    path,
    summary,
    needs: question.definition.rights,
    ...(method === "get" ? { query: schema } : { body: schema }),
    ...(options.status ? { status: options.status } : {}),
    example: options.example ?? {},
    handle: async ({ caller, path: named, query, body }) => {
      const result = await question(caller, {
        ...(method === "get" ? query : (body as object)),
        ...options.fixed,
        ...Object.fromEntries(parts.map((p) => [inner(p), p === "id" ? idIn(named[p]) : named[p]])),
      });
      if (!result.ok) return result;
      const companies = await companyList(caller);
      const functional = new Map(
        companies.ok ? companies.value.map((c) => [c.code, c.currency]) : [],
      );
      const asked = (method === "get" ? query : body) as { company?: unknown };
      const value = plain(result.value, {
        currency: functional.get(String(asked.company)) ?? "",
        functional,
        quantities: new Set(options.quantities ?? []),
      });
      return ok(Array.isArray(value) ? { items: value } : value);
    },
  };
}
