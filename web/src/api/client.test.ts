import { afterEach, describe, expect, it, vi } from "vitest";
import { answer, api, asking, lines, Problem } from "./client";

// Outside of a browser a request has no page that its path is of.
const ORIGIN = "http://northdrift.example";

function answers(body: BodyInit | null, status = 200, type = "application/json", statusText = "") {
	const fetched = vi.fn(
		async (_asked: Request | string) => new Response(body, { status, statusText, headers: { "content-type": type } }),
	);
	vi.stubGlobal("fetch", fetched);
	return fetched;
}

afterEach(() => vi.unstubAllGlobals());

const sent = (fetched: ReturnType<typeof answers>) => fetched.mock.calls.map(([asked]) => asked as Request);
const problemOf = (asked: Promise<unknown>) =>
	asked.then(
		() => null,
		(error: unknown) => error,
	);
const status = () => answer(api.GET("/api/status", { baseUrl: ORIGIN }));

describe("an answer", () => {
	it("is what the JSON says", async () => {
		const fetched = answers('{"lines":7}');
		const asked = new URLSearchParams([
			["find", "a b=ü"],
			["chip[]", "x"],
			["chip[]", "y"],
		]);
		expect(await answer(api.GET("/api/lines", { ...asking(asked), baseUrl: ORIGIN }))).toEqual({ lines: 7 });
		expect(sent(fetched).map(({ method, url }) => `${method} ${url}`)).toEqual([
			`GET ${ORIGIN}/api/lines?find=a+b%3D%C3%BC&chip%5B%5D=x&chip%5B%5D=y`,
		]);
	});

	it("is of what was sent, in its place", async () => {
		const fetched = answers("{}");
		const name = "a/b c";
		const said = { params: { path: { name } }, body: { site: "Brennsund" }, baseUrl: ORIGIN };
		await answer(api.PUT("/api/fleet/machines/{name}", said));
		const [request = new Request(ORIGIN)] = sent(fetched);
		expect([request.method, request.url]).toEqual(["PUT", `${ORIGIN}/api/fleet/machines/a%2Fb%20c`]);
		expect(request.headers.get("content-type")).toBe("application/json");
		expect(await request.json()).toEqual({ site: "Brennsund" });
	});

	it("that says what is wrong is told as it says it", async () => {
		const wrong = '{"type":"/problems/x","title":"X","status":422,"detail":"Column 3: …","column":3}';
		answers(wrong, 422, "application/problem+json");
		const problem = await problemOf(status());
		expect(problem).toBeInstanceOf(Problem);
		expect((problem as Problem).message).toBe("Column 3: …");
		expect((problem as Problem).details.column).toBe(3);
	});

	it.each([
		[200, "<html>Sign in</html>"],
		[502, "Bad Gateway"],
		[504, ""],
	])("of %i that is no JSON is none", async (code, body) => {
		answers(body, code, "text/html", "said so");
		const problem = (await problemOf(status())) as Problem;
		expect(problem.message).toBe(`The answer was not Northdrift’s: ${code} said so`);
		expect(problem.details.status).toBe(code);
	});

	it("that breaks off is none", async () => {
		answers('{"lines":[1,2');
		expect(((await problemOf(status())) as Problem).message).toMatch(/does not answer/);
	});

	it("that does not come is told, and who stopped it is not told", async () => {
		vi.stubGlobal("fetch", async () => Promise.reject(new TypeError("Failed to fetch")));
		expect(((await problemOf(status())) as Problem).message).toMatch(/does not answer/);
		vi.stubGlobal("fetch", async () => Promise.reject(new DOMException("stopped", "AbortError")));
		expect(await problemOf(status())).toBeInstanceOf(DOMException);
	});
});

describe("an answer of many lines", () => {
	const streamed = (parts: Uint8Array[]) =>
		new ReadableStream<Uint8Array>({
			start(controller) {
				for (const part of parts) controller.enqueue(part);
				controller.close();
			},
		});
	const all = async () => {
		const found: unknown[] = [];
		for await (const one of lines("/api/words", new URLSearchParams(), new AbortController().signal)) found.push(one);
		return found;
	};

	it("is the same however it is cut", async () => {
		const bytes = new TextEncoder().encode('{"word":"größe"}\n{"word":"日本"}\n{"done":1}\n');
		for (let size = 1; size <= bytes.length; size += 1) {
			const parts: Uint8Array[] = [];
			for (let from = 0; from < bytes.length; from += size) parts.push(bytes.slice(from, from + size));
			answers(streamed(parts));
			expect(await all()).toEqual([{ word: "größe" }, { word: "日本" }, { done: 1 }]);
		}
	});

	it("says what is wrong", async () => {
		answers('{"type":"/problems/x","title":"X","status":400,"detail":"with what?"}', 400);
		expect(((await problemOf(all())) as Problem).message).toBe("with what?");
	});
});
