import { randomBytes } from "node:crypto";
import { ROLES } from "../src/core/access";
import { Client } from "./client";

/** Who attacks, and what there is to attack. */
export interface Scene {
  base: string;
  /** The one company of the attacker, and another one. */
  own: string;
  other: string;
  /** People of the demo, all over the group. */
  admin: Client;
  accountant: Client;
  controller: Client;
  /** Somebody with every role in one company alone: as a program and in a browser. */
  inside: Client;
  browser: Client;
  login: string;
  password: string;
}

/** Makes the attacker, as the administrator would make a new person. */
export async function prepare(
  base: string,
  { own, other, password }: { own: string; other: string; password: string },
): Promise<Scene> {
  const admin = await Client.program(base, "admin", password);
  const login = `attack-${randomBytes(4).toString("hex")}`;
  const secret = `${randomBytes(12).toString("base64url")} gulls`;
  const made = await admin.post("/api/v1/people", {
    login,
    name: "Nobody of this company",
    password: secret,
    grants: ROLES.map((role) => ({ role, company: own })),
  });
  if (made.status !== 201) throw new Error(`the attacker cannot be made: ${made.text}`);
  return {
    base,
    own,
    other,
    admin,
    accountant: await Client.program(base, "accountant", password),
    controller: await Client.program(base, "controller", password),
    inside: await Client.program(base, login, secret),
    browser: await Client.browser(base, login, secret),
    login,
    password: secret,
  };
}

/** Afterwards the attacker may not sign in any more; what they did stays in the history. */
export async function withdraw({ admin, login, own }: Scene): Promise<void> {
  const { items } = await admin.read<{ items: { id: number; login: string; name: string }[] }>(
    "/api/v1/people",
  );
  const person = items.find((p) => p.login === login)!;
  await admin.post("/api/v1/people", {
    id: person.id,
    login,
    name: person.name,
    active: false,
    grants: [{ role: "auditor", company: own }],
  });
}
