export * from "./table";
export * from "./attachment";
