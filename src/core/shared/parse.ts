import { ValidationError, type AnySchema, type InferType } from "yup";
import type { Found, Result } from "./result";
import { tidy } from "./tidy";

/**
 * Reads input by its schema; every fault becomes a problem at its field, and at its line where it
 * lies in one. Forms and use cases read alike. What the schema does not name is left out.
 */
export function parse<S extends AnySchema>(shape: S, raw: unknown): Result<InferType<S>> {
  try {
    return {
      ok: true,
      value: shape.validateSync(tidy(raw ?? {}), {
        abortEarly: false,
        stripUnknown: true,
      }) as InferType<S>,
    };
  } catch (error) {
    // Trimming a list or a record: the shape is another one than the schema reads.
    if (error instanceof TypeError)
      return {
        ok: false,
        problems: [{ code: "INVALID", what: "A value is of another kind than is expected" }],
      };
    if (!(error instanceof ValidationError)) throw error;
    const faults = error.inner.length > 0 ? error.inner : [error];
    const problems = faults.map((e): Found => {
      const line = /lines\[(\d+)\]/.exec(e.path ?? "");
      return {
        code: "INVALID",
        what: e.errors.join("; ").slice(0, 300),
        ...(e.path ? { field: e.path.replace(/^lines\[\d+\]\.?/, "") } : {}),
        ...(line ? { line: Number(line[1]) + 1 } : {}),
      };
    });
    return { ok: false, problems };
  }
}
