/** The areas whose periods, rights and menus are kept apart. */
export const AREAS = ["ledger", "payables", "receivables", "banks", "assets", "stock"] as const;
export type Area = (typeof AREAS)[number];

/** Areas that have people of their own; stock only records. */
type WorkArea = Exclude<Area, "stock">;

export type Right =
  | `read.${WorkArea | "plan" | "statements" | "close" | "history" | "setup" | "branch"}`
  | `prepare.${WorkArea | "plan"}`
  | `post.${WorkArea | "whileClosing" | "againstControl"}`
  | `reverse.${WorkArea}`
  | `period.${WorkArea}`
  | "setup.organisation"
  | "setup.people"
  | "setup.rules"
  | "setup.shortcuts";

export const ROLES = [
  "accountant",
  "payables",
  "receivables",
  "treasury",
  "assets",
  "budget",
  "controller",
  "auditor",
  "admin",
] as const;
export type Role = (typeof ROLES)[number];

const WORK_AREAS: readonly WorkArea[] = ["ledger", "payables", "receivables", "banks", "assets"];
const readAll: Right[] = [
  ...WORK_AREAS.map((a): Right => `read.${a}`),
  "read.plan",
  "read.statements",
  "read.close",
];
/** A clerk reads the ledger and works in one area, from preparing to its period. */
const clerk = (area: WorkArea): Right[] => [
  "read.ledger",
  "read.close",
  `read.${area}`,
  `prepare.${area}`,
  `post.${area}`,
  `reverse.${area}`,
  `period.${area}`,
];

/** What each role may do. A person has one or more roles, for all companies or for named ones. */
export const ROLE_RIGHTS: Readonly<Record<Role, ReadonlySet<Right>>> = {
  accountant: new Set<Right>([
    "read.ledger",
    "read.statements",
    "read.close",
    "prepare.ledger",
    "post.ledger",
    "reverse.ledger",
    "setup.shortcuts",
  ]),
  payables: new Set(clerk("payables")),
  receivables: new Set(clerk("receivables")),
  treasury: new Set(clerk("banks")),
  assets: new Set(clerk("assets")),
  budget: new Set<Right>(["read.branch", "read.plan", "prepare.plan"]),
  controller: new Set<Right>([
    ...readAll,
    "read.history",
    "read.setup",
    "prepare.plan",
    ...WORK_AREAS.flatMap((a): Right[] => [
      `prepare.${a}`,
      `post.${a}`,
      `reverse.${a}`,
      `period.${a}`,
    ]),
    "post.whileClosing",
    "post.againstControl",
    "setup.rules",
    "setup.shortcuts",
  ]),
  auditor: new Set<Right>([...readAll, "read.history", "read.setup"]),
  admin: new Set<Right>(["read.setup", "read.history", "setup.organisation", "setup.people"]),
};

/** One role of a person; `company` null means every company of the group. */
export interface Grant {
  role: Role;
  company: string | null;
}

/** Whether the grants hold a right, for one company where the question names one, else for any. */
export function may(grants: readonly Grant[], right: Right, company?: string): boolean {
  return grants.some(
    (g) =>
      ROLE_RIGHTS[g.role].has(right) &&
      (g.company === null || company === undefined || g.company === company),
  );
}

/** Whether the grants hold a right in each of the companies, or in whatever companies there are. */
export const mayEverywhere = (
  grants: readonly Grant[],
  right: Right,
  companies: readonly string[],
): boolean =>
  grants.some((g) => g.company === null && ROLE_RIGHTS[g.role].has(right)) ||
  (companies.length > 0 && companies.every((code) => may(grants, right, code)));

/** Of the companies given, those in which the grants hold the right. */
export const companiesWith = (
  grants: readonly Grant[],
  right: Right,
  companies: readonly string[],
): string[] => companies.filter((code) => may(grants, right, code));
