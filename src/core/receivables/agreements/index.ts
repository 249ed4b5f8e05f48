export * from "./agreement";
export * from "./priceIndex";
