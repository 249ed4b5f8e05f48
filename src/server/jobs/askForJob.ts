import type { JobKindId } from "@/core/jobs";
import type { Context } from "../access";
import { schema } from "../db";

export interface JobWanted {
  kind: JobKindId;
  company: string | null;
  /** What it works on, for people. */
  title: string;
  /** The page that shows that. */
  page: string;
  params: Record<string, unknown>;
  /** Of those that say the same here, one works at a time. */
  alone: string;
  /** How much there is to do, where that is known. */
  total?: number;
}

/** Notes a job in the transaction of whoever wants it: it begins once that has ended well. */
export async function askForJob(
  { tx, person, masters, now }: Context,
  { kind, company, title, page, params, alone, total }: JobWanted,
): Promise<number> {
  const companyId = company === null ? null : masters.companyByCode.get(company)!.id;
  const askedAt = now.toISOString();
  const [made] = await tx
    .insert(schema.job)
    .values({ kind, companyId, personId: person.id, title, page, params, alone, total, askedAt })
    .returning({ id: schema.job.id });
  return made!.id;
}
