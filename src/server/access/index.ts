export * from "./useCase";
export * from "./sessions";
export * from "./people";
export * from "./runAs";
