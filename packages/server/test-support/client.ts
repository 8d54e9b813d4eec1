/** A browser's part of HTTP: keeps cookies, speaks JSON. */
export class Client {
  private readonly cookies = new Map<string, string>();

  constructor(
    private readonly origin: string,
    private readonly more: Record<string, string> = {},
  ) {}

  async request(
    method: string,
    path: string,
    body?: unknown,
  ): Promise<{ status: number; body: unknown; text: string; headers: Headers }> {
    const response = await fetch(`${this.origin}${path}`, {
      method,
      headers: {
        ...(body === undefined ? {} : { "Content-Type": "application/json" }),
        ...this.headers,
      },
      ...(body === undefined ? {} : { body: typeof body === "string" ? body : JSON.stringify(body) }),
    });
    for (const cookie of response.headers.getSetCookie()) {
      const [name, value] = cookie.split(";")[0]!.split("=");
      this.cookies.set(name!, value ?? "");
    }
    const text = await response.text();
    const isJson = /[/+]json(?:;|$)/.test(response.headers.get("content-type") ?? "");
    return {
      status: response.status,
      body: isJson ? (JSON.parse(text) as unknown) : text,
      text,
      headers: response.headers,
    };
  }

  /** What a further request of this browser would carry. */
  get headers(): Record<string, string> {
    return { ...this.more, Cookie: [...this.cookies].map(([name, value]) => `${name}=${value}`).join("; ") };
  }

  get = (path: string) => this.request("GET", path);
  post = (path: string, body: unknown = {}) => this.request("POST", path, body);
  put = (path: string, body: unknown) => this.request("PUT", path, body);
  delete = (path: string) => this.request("DELETE", path);
}
