import { COMPANIES } from "./structure";

/** What each desk of the ferries may let go at once. */
export const demoWriteOffLimits = COMPANIES.flatMap(({ code: company }) => [
  { person: "treasury", company, limit: "50.00" },
  { person: "receivables", company, limit: "5,000.00" },
]);
