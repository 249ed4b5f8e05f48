import { setLocale } from "yup";

// What a schema says where it has no sentence of its own. Paths such as lines[3].debit stand beside
// the sentence, not in it.
setLocale({
  mixed: {
    required: "This is missing",
    notNull: "This is missing",
    notType: "This has another form than expected",
    oneOf: "This is one of: ${values}",
  },
  string: {
    max: "This is longer than ${max} characters",
    min: "This is shorter than ${min} characters",
    length: "This has ${length} characters",
    matches: "This has another form than expected",
  },
  number: {
    min: "This is at least ${min}",
    max: "This is at most ${max}",
    integer: "This is a whole number",
  },
  array: { max: "There are at most ${max} of these", min: "There are at least ${min} of these" },
});
