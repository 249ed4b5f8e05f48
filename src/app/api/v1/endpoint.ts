import type { AnySchema } from "yup";
import { decimalText, type Result } from "@/core/shared";
import type { Right } from "@/core/access";
import type { Caller } from "@/server/access";

/** A request with its parts read: path parameters, query and body by their schemas. */
export interface Asked {
  caller: Caller;
  path: Record<string, string>;
  query: Record<string, unknown>;
  body: unknown;
  /** The body as it came, where the endpoint takes a file. */
  file: Uint8Array;
  origin: string;
}
export interface Endpoint {
  method: "get" | "post";
  path: string;
  summary: string;
  query?: AnySchema;
  body?: AnySchema;
  /** The body is a file, CSV or XLSX. */
  takesFile?: boolean;
  /** One of these rights, in some company: asked for before the body is read. */
  needs?: readonly Right[] | "signed-in";
  /** Status of a good answer, 200 where nothing is said. */
  status?: number;
  open?: boolean;
  example: unknown;
  handle(asked: Asked): Promise<Result<unknown> | Response>;
}

export const map = <T, U>(result: Result<T>, to: (value: T) => U): Result<U> =>
  result.ok ? { ok: true, value: to(result.value) } : result;
/** Amounts leave as plain decimals. */
export const money = (currency: string) => (amount: bigint | null) =>
  amount === null ? null : decimalText(amount, currency);

/** The identity that a part of an address names; 0, which nothing has, where it names none. */
export const idIn = (part: string | undefined): number =>
  part !== undefined && /^\d{1,15}$/.test(part) ? Number(part) : 0;
