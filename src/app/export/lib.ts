import { describeFound, type Problem } from "@/core/shared";
import type { FileFormat } from "@/server/files";

export const formatOf = (query: URLSearchParams, allowed: readonly FileFormat[]): FileFormat =>
  allowed.find((f) => f === query.get("format")) ?? allowed[0]!;

export const placeOf = (query: URLSearchParams) => ({
  company: query.get("company") ?? "",
  period: query.get("period") ?? "",
  ...(query.get("book") ? { book: query.get("book") } : {}),
  ...(query.get("from") ? { from: query.get("from") } : {}),
  ...(query.get("asKnown") ? { asKnown: query.get("asKnown") } : {}),
});

/** A file that cannot be made says why, as text. */
export const refusal = (problems: readonly Problem[]): Response =>
  new Response(problems.map(describeFound).join("\n"), {
    status: problems.some((p) => p.code === "FORBIDDEN") ? 403 : 422,
    headers: { "Content-Type": "text/plain; charset=utf-8" },
  });

/** A file for a person to open or keep; never kept by what lies between. */
export const pdfFile = (content: Uint8Array, name: string): Response =>
  new Response(content as BodyInit, {
    headers: {
      "Content-Type": "application/pdf",
      "Content-Disposition": `attachment; filename="${name}"`,
      "Cache-Control": "no-store",
    },
  });
