import { array, boolean, number, object, string } from "yup";
import { ROLES } from "./rights";

export const personSchema = object({
  id: number().integer(),
  login: string()
    .required("A sign-in name is needed")
    .matches(
      /^[a-z][a-z0-9._-]{1,39}$/,
      "A sign-in name has 2 to 40 small letters, figures, points or dashes",
    ),
  name: string().required("A name is needed").max(80, "A name has at most 80 characters"),
  password: string().max(200),
  active: boolean().default(true),
  grants: array(
    object({
      role: string().oneOf(ROLES).required(),
      company: string().nullable().default(null),
    }),
  )
    .required()
    .max(50),
});
