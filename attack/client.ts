/** An answer as an attacker sees it. */
export interface Answer {
  status: number;
  text: string;
  headers: Headers;
  ms: number;
}

/** Speaks to an installation as a stranger, as a program with a token, or as a browser. */
export class Client {
  private constructor(
    readonly base: string,
    private readonly headers: Record<string, string>,
  ) {}

  static stranger(base: string): Client {
    return new Client(base, {});
  }

  /** A program of this person. */
  static async program(base: string, user: string, password: string): Promise<Client> {
    const answer = await Client.stranger(base).post("/api/v1/tokens", { user, password });
    if (answer.status !== 201) throw new Error(`${user} gets no token: ${answer.text}`);
    const { token } = JSON.parse(answer.text) as { token: string };
    return new Client(base, { Authorization: `Bearer ${token}` });
  }

  /** A browser of this person, without its scripts: the form of the page is sent as it stands. */
  static async browser(base: string, login: string, password: string): Promise<Client> {
    const page = await fetch(`${base}/sign-in`);
    const form = new FormData();
    for (const [, name, value] of (await page.text()).matchAll(
      /<input type="hidden" name="([^"]{1,80})"(?: value="([^"]{0,4000})")?/g,
    ))
      form.set(plain(name!), plain(value ?? ""));
    form.set("login", login);
    form.set("password", password);
    const answer = await fetch(`${base}/sign-in`, {
      method: "POST",
      body: form,
      redirect: "manual",
      headers: { Origin: base },
    });
    const cookie = answer.headers.getSetCookie().map((c) => c.split(";")[0]!);
    if (cookie.length === 0) throw new Error(`${login} cannot sign in (${answer.status})`);
    return new Client(base, { Cookie: cookie.join("; "), Origin: base });
  }

  get = (path: string, more: Record<string, string> = {}): Promise<Answer> =>
    this.ask("GET", path, undefined, more);

  post = (path: string, body: unknown, more: Record<string, string> = {}): Promise<Answer> =>
    body instanceof Uint8Array || typeof body === "string"
      ? this.ask("POST", path, body as BodyInit, more)
      : this.ask("POST", path, JSON.stringify(body), {
          "Content-Type": "application/json",
          ...more,
        });

  /** The value that is read, for what an attack begins with; throws where it is not given. */
  async read<T>(path: string): Promise<T> {
    const answer = await this.get(path);
    if (answer.status !== 200)
      throw new Error(`${path}: ${answer.status} ${answer.text.slice(0, 200)}`);
    return JSON.parse(answer.text) as T;
  }

  private async ask(
    method: string,
    path: string,
    body: BodyInit | undefined,
    more: Record<string, string>,
  ): Promise<Answer> {
    const from = performance.now();
    const init: RequestInit = {
      method,
      headers: { ...this.headers, ...more },
      redirect: "manual",
      signal: AbortSignal.timeout(120_000),
      ...(body === undefined ? {} : { body }),
    };
    try {
      const response = await fetch(`${this.base}${path}`, init);
      const text = await response.text();
      const ms = performance.now() - from;
      return { status: response.status, text, headers: response.headers, ms };
    } catch {
      // Cut off while it was still sending: what a body that is too long gets.
      return { status: 0, text: "cut off", headers: new Headers(), ms: performance.now() - from };
    }
  }
}

const plain = (html: string): string =>
  html
    .replace(/&quot;/g, '"')
    .replace(/&#x27;/g, "'")
    .replace(/&lt;/g, "<")
    .replace(/&gt;/g, ">")
    .replace(/&amp;/g, "&");
