export * as column from "./columns";
export type { ListColumns, RowOf } from "./columns";
export { queryList, type Asked, type List, type Order } from "./queryList";
