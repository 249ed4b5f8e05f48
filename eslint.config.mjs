import next from "eslint-config-next/core-web-vitals";
import typescript from "eslint-config-next/typescript";

const LONG_SQL = {
  selector:
    "TaggedTemplateExpression[tag.name='sql'] > TemplateLiteral > TemplateElement[value.raw=/[^\\n]{121}/]",
  message: "A line of SQL is longer than 120 characters. Break it before a clause.",
};
const REGISTER = {
  selector:
    "TaggedTemplateExpression[tag.name='sql'] TemplateElement[value.raw=/(insert into|update) document\\b(?!_)/]",
  message: "Rows of the register are written by server/documents/register.ts alone.",
};

const STANDARD_TEXT = "CallExpression[callee.name=/^(amountText|quantityText|dateText|dayText)$/]";
const SHOWN = ["JSXElement > JSXExpressionContainer", "Property[key.name='cell']"].map((place) => ({
  selector: `${place} ${STANDARD_TEXT}`,
  message:
    "What people see is in their own way of writing: shownAmount, shownQuantity, shownDate, shownDay.",
}));

const config = [
  {
    ignores: [
      "**/.next/**",
      "node_modules/**",
      "migrations/**",
      "next-env.d.ts",
      ".data/**",
      "coverage/**",
    ],
  },
  ...next,
  ...typescript,
  {
    rules: {
      "@typescript-eslint/no-explicit-any": "error",
      "@typescript-eslint/no-unused-vars": [
        "error",
        { argsIgnorePattern: "^_", varsIgnorePattern: "^_" },
      ],
      // The virtual list and the entry grid read refs and set state in step with the browser on
      // purpose; each place says why.
      "react-hooks/incompatible-library": "off",
      // Prettier keeps code at 100; what it can't break must not grow past 120. Sentences and class
      // names are data; SQL is code, and is broken by hand.
      "max-len": [
        "error",
        {
          code: 120,
          ignoreStrings: true,
          ignoreTemplateLiterals: true,
          ignoreRegExpLiterals: true,
          ignoreUrls: true,
        },
      ],
      "no-restricted-syntax": ["error", LONG_SQL],
    },
  },
  {
    files: ["src/app/**/*.tsx", "src/ui/**/*.tsx"],
    rules: { "no-restricted-syntax": ["error", LONG_SQL, ...SHOWN] },
  },
  {
    files: ["src/server/**/*.ts"],
    ignores: ["src/server/documents/register.ts", "**/*.test.ts"],
    rules: { "no-restricted-syntax": ["error", LONG_SQL, REGISTER] },
  },
];

export default config;
