export { collectionsDesk, tryPolicy, type Desk, type DeskRow, type NewOrder } from "./desk";
export { deskCustomer, type DeskCustomer, type DeskItem } from "./deskCustomer";
export { customerState, type CustomerState } from "./customerState";
export { customerConversation, sayOfCustomer, type Said } from "./conversation";
export { makePromise, withdrawPromise } from "./promises";
export { closeDispute, openDispute } from "./disputes";
export { customerGroups, saveCustomerGroup, type GroupPolicy } from "./policies";
