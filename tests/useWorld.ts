import { readFileSync } from "node:fs";
import { randomBytes } from "node:crypto";
import pg from "pg";
import { afterAll, beforeAll, inject } from "vitest";
import { openDatabase, type Database } from "../src/server/db";

/** A copy of the test world for one test file, on the kind of database under test. */
export function world(onQuery?: (query: string) => void): {
  readonly database: Database;
  readonly url: string | null;
} {
  let database: Database | undefined;
  let url: string | null = null;
  beforeAll(async () => {
    const server = inject("server");
    if (server) {
      const name = `t_${randomBytes(6).toString("hex")}`;
      const client = new pg.Client(`${server}/postgres`);
      await client.connect();
      // Two files that copy the template at once would refuse each other.
      await client.query("select pg_advisory_lock(1)");
      await client.query(`create database ${name} template world`);
      await client.end();
      url = `${server}/${name}`;
      database = await openDatabase({ url, ...(onQuery ? { onQuery } : {}) });
    } else
      database = await openDatabase({
        from: new Blob([readFileSync(inject("embedded"))]),
        ...(onQuery ? { onQuery } : {}),
      });
  });
  afterAll(async () => database?.close());
  return {
    get database() {
      return database!;
    },
    get url() {
      return url;
    },
  };
}
