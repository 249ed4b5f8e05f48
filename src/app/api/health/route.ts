import { sql } from "drizzle-orm";
import { getDatabase } from "@/server/runtime";

/** Whether the application and its database answer. */
export async function GET(): Promise<Response> {
  try {
    await (await getDatabase()).db.execute(sql`select 1`);
    return Response.json({ status: "ok" });
  } catch {
    return Response.json({ status: "database unavailable" }, { status: 503 });
  }
}
