export { askForJob, type JobWanted } from "./askForJob";
export { watchJobs, workOnThread } from "./foreman";
export { defineJobKind, type JobAtWork, type JobKind } from "./kind";
export { listJobs, stopJob, type JobView } from "./viewJobs";
export { forgetWorkers, hasJobs, workOnAll, workOnNext } from "./work";
