import { afterEach, describe, expect, it, vi } from "vitest";
import { get, lines, Problem, send } from "./client";

function answers(body: BodyInit | null, status = 200, statusText = "") {
	const fetched = vi.fn(async (_path: string, _options?: RequestInit) => new Response(body, { status, statusText }));
	vi.stubGlobal("fetch", fetched);
	return fetched;
}

afterEach(() => vi.unstubAllGlobals());

const problemOf = (asked: Promise<unknown>) =>
	asked.then(
		() => null,
		(error: unknown) => error,
	);

describe("an answer", () => {
	it("is what the JSON says", async () => {
		const fetched = answers('{"lines":7}');
		expect(await get("/api/status", new URLSearchParams({ a: "b c" }))).toEqual({ lines: 7 });
		expect(fetched.mock.calls[0]?.[0]).toBe("/api/status?a=b+c");
	});

	it("that says what is wrong is told as it says it", async () => {
		answers('{"type":"/problems/x","title":"X","status":422,"detail":"Column 3: …","column":3}', 422);
		const problem = await problemOf(send("POST", "/api/cases", {}));
		expect(problem).toBeInstanceOf(Problem);
		expect((problem as Problem).message).toBe("Column 3: …");
		expect((problem as Problem).details.column).toBe(3);
	});

	it.each([
		[200, "<html>Sign in</html>"],
		[502, "Bad Gateway"],
		[504, ""],
	])("of %i that is no JSON is none", async (status, body) => {
		answers(body, status, "said so");
		const problem = (await problemOf(get("/api/status"))) as Problem;
		expect(problem.message).toBe(`The answer was not Northdrift’s: ${status} said so`);
		expect(problem.details.status).toBe(status);
	});

	it("that has nothing in it is one all the same", async () => {
		answers("");
		expect(await get("/api/x")).toBeNull();
	});

	it("that does not come is told, and who stopped it is not told", async () => {
		vi.stubGlobal("fetch", async () => Promise.reject(new TypeError("Failed to fetch")));
		expect(((await problemOf(get("/api/x"))) as Problem).message).toMatch(/does not answer/);
		vi.stubGlobal("fetch", async () => Promise.reject(new DOMException("stopped", "AbortError")));
		expect(await problemOf(get("/api/x"))).toBeInstanceOf(DOMException);
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
