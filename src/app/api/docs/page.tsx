import { headers } from "next/headers";
import { openApi } from "../v1/openApi";

export const metadata = { title: "Interface for programs" };

interface Operation {
  summary: string;
  parameters: { name: string; in: string; required: boolean; description?: string }[];
  requestBody?: { content: Record<string, { schema: unknown }> };
  responses: Record<
    string,
    { description: string; content?: { "application/json": { example?: unknown } } }
  >;
}

/** The OpenAPI document for people. */
export default async function DocsPage() {
  const host = (await headers()).get("host") ?? "127.0.0.1";
  const document = openApi(`http://${host}`) as {
    info: { description: string };
    servers: { url: string }[];
    paths: Record<string, Record<string, Operation>>;
  };
  return (
    <main className="mx-auto max-w-4xl px-6 py-8">
      <h1>Interface for programs</h1>
      <p className="my-2 text-ink-2">
        {document.info.description} The same as{" "}
        <a className="link" href="/api/v1/openapi.json">
          OpenAPI 3.1
        </a>
        . Addresses begin with {document.servers[0]?.url}.
      </p>
      {Object.entries(document.paths).flatMap(([path, methods]) =>
        Object.entries(methods).map(([method, operation]) => (
          <section key={method + path} className="panel my-3 p-4">
            <h2>
              <span className="mr-2 uppercase text-sea">{method}</span>
              {path}
            </h2>
            <p className="mb-2">{operation.summary}.</p>
            {operation.parameters.length > 0 && (
              <p className="text-ink-2">
                {operation.parameters
                  .map((p) => `${p.name} (${p.in}${p.required ? ", needed" : ""})`)
                  .join(" · ")}
              </p>
            )}
            {Object.entries(operation.requestBody?.content ?? {}).map(([type, { schema }]) => (
              <pre key={type} className="mt-2 overflow-x-auto rounded bg-shade p-2 text-xs">
                {type === "application/json"
                  ? JSON.stringify(schema, null, 1)
                  : `The body is a file: ${type}`}
              </pre>
            ))}
            {Object.entries(operation.responses).map(([status, r]) => (
              <div key={status} className="mt-1">
                <b className="font-semibold">{status}</b> {r.description}
                {r.content?.["application/json"].example !== undefined && (
                  <pre className="overflow-x-auto rounded bg-shade p-2 text-xs">
                    {JSON.stringify(r.content["application/json"].example, null, 1)}
                  </pre>
                )}
              </div>
            ))}
          </section>
        )),
      )}
    </main>
  );
}
