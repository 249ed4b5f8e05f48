import type { Role } from "@/core/access";

/** The people of the demo; all sign in with the demo password. */
export const DEMO_PASSWORD = "yellow-anchor";
export const DEMO_PEOPLE: readonly { login: Role; name: string; what: string }[] = [
  { login: "accountant", name: "Mara Ostin", what: "prepares and posts journals" },
  { login: "payables", name: "Tomas Reel", what: "supplier invoices and payments" },
  { login: "receivables", name: "Ines Calloway", what: "customers and collections" },
  { login: "treasury", name: "Pavel Strand", what: "banks and cash" },
  { login: "assets", name: "Runa Vale", what: "vessels, piers and depreciation" },
  { login: "budget", name: "Oskar Lindqvist-Hay", what: "heads Harbour works" },
  { login: "controller", name: "Linnea Dane", what: "closes, publishes, approves" },
  { login: "auditor", name: "Hew Marrick", what: "reads everything" },
  { login: "admin", name: "Sanne Quill", what: "set-up, people and rights" },
];
