import { notFound } from "next/navigation";
import { getPaperStatement } from "@/server/banks";
import { pageCaller } from "@/app/lib/session";
import { PaperSheet } from "./PaperSheet";

export const metadata = { title: "Statement of paper" };

export default async function PaperPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const result = await getPaperStatement(await pageCaller(), { id: Number(id) || 0 });
  if (!result.ok) notFound();
  return <PaperSheet statement={result.value} />;
}
