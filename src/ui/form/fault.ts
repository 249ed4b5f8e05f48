import { describeFound, parse, type Found } from "@/core/shared";
import type { AnySchema } from "yup";

/** What is wrong, at a field or with the whole. */
export interface Fault {
  field: string | null;
  message: string;
}

export const faultOf = (found: Found): Fault => ({
  field: found.field ?? null,
  message: describeFound(found),
});

/** What the schema of a use case finds wrong with input, before anybody asks the server. */
export function faultsOf(schema: AnySchema, input: unknown): Fault[] {
  const read = parse(schema, input);
  return read.ok ? [] : read.problems.map(faultOf);
}
