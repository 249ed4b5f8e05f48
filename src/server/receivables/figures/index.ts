export {
  collectingFigures,
  type CollectingFigures,
  type CollectingMonth,
  type CollectorRow,
  type LargestRow,
} from "./collectingFigures";
