import { once } from "node:events";
import { sql } from "drizzle-orm";
import { expect, inject, test } from "vitest";
import { openDatabase, rows } from "./index";
import { threadFromSources } from "../threads";

test.skipIf(inject("server") !== null)(
  "a thread that shares the embedded database keeps, takes back and leaves nothing by halves",
  async () => {
    const database = await openDatabase({});
    const { data, transfer, over } = database.share();
    const worker = threadFromSources("../../tests/programs/onThread.ts", {
      workerData: { database: data },
      transferList: transfer,
    });
    const [code] = (await once(worker, "message")) as [string];
    await once(worker, "exit");
    over();
    expect(code).toBe("42P01");
    const found = await rows<{ what: string }>(database.db, sql`select what from told`);
    expect(found).toEqual([{ what: "kept" }]);
    await database.close();
  },
);
