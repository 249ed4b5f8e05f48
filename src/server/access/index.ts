export * from "./useCase";
export * from "./locks";
export * from "./sessions";
export * from "./people";
export * from "./runAs";
export * from "./rateLimit";
export * from "./history";
export * from "./secondFactor";
