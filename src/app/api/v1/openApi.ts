import { convertSchema } from "@sodaru/yup-to-json-schema";
import type { AnySchema } from "yup";
import { ENDPOINTS } from "./endpoints";

type Json = Record<string, unknown>;

/**
 * The document of the interface (OpenAPI 3.1), made from the endpoints and the schemas that check
 * their input.
 */
export function openApi(server: string): Json {
  const paths: Record<string, Json> = {};
  for (const e of ENDPOINTS) {
    const parameters: Json[] = [...e.path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({
      name,
      in: "path",
      required: true,
      schema: { type: "string" },
    }));
    if (e.query) {
      const schema = schemaOf(e.query) as {
        properties?: Record<string, Json>;
        required?: string[];
      };
      for (const [name, property] of Object.entries(schema.properties ?? {}))
        parameters.push({
          name,
          in: "query",
          required: schema.required?.includes(name) ?? false,
          schema: property,
        });
    }
    if (e.method === "post" && !e.open)
      parameters.push({
        name: "Idempotency-Key",
        in: "header",
        required: false,
        schema: { type: "string", maxLength: 200 },
        description:
          "The same key with the same request gives the first answer again and does nothing.",
      });
    const refusal = (description: string) => ({
      description,
      content: { "application/json": { schema: { $ref: "#/components/schemas/Problems" } } },
    });
    (paths[e.path] ??= {})[e.method] = {
      summary: e.summary,
      operationId: `${e.method}${e.path.replace(/[/{}-]+(\w?)/g, (_m, c: string) => c.toUpperCase())}`,
      ...(e.open ? { security: [] } : {}),
      parameters,
      ...(e.body
        ? {
            requestBody: {
              required: true,
              content: { "application/json": { schema: schemaOf(e.body) } },
            },
          }
        : {}),
      ...(e.takesFile
        ? {
            requestBody: {
              required: true,
              content: {
                "text/csv": { schema: { type: "string" } },
                "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet": {
                  schema: { type: "string", format: "binary" },
                },
              },
            },
          }
        : {}),
      responses: {
        [String(e.status ?? 200)]: {
          description: "Done",
          content: { "application/json": { example: e.example } },
        },
        ...(e.open ? {} : { "401": refusal("No token, or one that has ended") }),
        "403": refusal("The person may not do this"),
        "404": refusal("There is no such thing"),
        "422": refusal("Everything that is wrong, with its line and field"),
      },
    };
  }
  return {
    openapi: "3.1.0",
    info: {
      title: "Yellow Anchor",
      version: "1",
      description:
        "Amounts are decimal texts in the company's functional currency. Lists come as items, with next where there are more: send it as after.",
    },
    servers: [{ url: `${server}/api/v1` }],
    security: [{ token: [] }],
    paths,
    components: {
      securitySchemes: { token: { type: "http", scheme: "bearer" } },
      schemas: {
        Problems: {
          type: "object",
          required: ["problems"],
          properties: {
            problems: {
              type: "array",
              items: {
                type: "object",
                required: ["code", "message"],
                properties: {
                  line: { type: ["integer", "null"] },
                  field: { type: ["string", "null"] },
                  code: { type: "string" },
                  message: { type: "string" },
                },
              },
            },
          },
        },
      },
    },
  };
}

/** Free records have no fixed keys, which the converter cannot know. */
const schemaOf = (schema: AnySchema): unknown =>
  JSON.parse(
    JSON.stringify(convertSchema(schema as never), (key, value: unknown) =>
      key === "dimensions" && typeof value === "object"
        ? { type: "object", additionalProperties: { type: "string" } }
        : value,
    ),
  );
