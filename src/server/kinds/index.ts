// What the areas plug into the mechanisms, in lists whose types are complete: a kind that is named
// in core and defined nowhere does not compile. The mechanisms fetch them when they need them, since
// the areas stand on the mechanisms; so nothing depends on what was imported first.
export * from "./documents";
export * from "./events";
export * from "./runs";
export * from "./jobs";
