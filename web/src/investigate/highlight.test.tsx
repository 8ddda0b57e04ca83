import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import { Message, matcher } from "./highlight";

function found(text: string, ...highlights: Parameters<typeof matcher>[0]): string[] {
	const match = matcher(highlights);
	return match ? [...text.matchAll(match)].map(([one]) => one) : [];
}

describe("what a find text looks for is marked", () => {
	it("as whole tokens, whatever their case and whatever stands between them", () => {
		expect(found("Disk full, disk: FULL; disks full", { tokens: ["disk", "full"] })).toEqual([
			"Disk full",
			"disk: FULL",
		]);
		expect(found("größe und große", { tokens: ["größe"] })).toEqual(["größe"]);
	});

	it("with an open end", () =>
		expect(found("time timed, sometimes", { tokens: ["time"], open: true })).toEqual(["time", "timed"]));

	it("to the letter, also inside a token", () => expect(found("a.b(c) aXb(c)", { text: "a.b(c" })).toEqual(["a.b(c"]));

	it("and leaves out what the browser cannot read", () => {
		expect(found("aaa", { pattern: "(?P<x>a" })).toEqual([]);
		expect(found("abc", { pattern: "(?P<x>a" }, { tokens: ["abc"] })).toEqual(["abc"]);
	});
});

describe("a message", () => {
	const plain = (html: string) => html.replace(/<[^>]*>/g, "");
	const texts = [
		"timed out after 30000 ms waiting for tix-db-1:5432",
		'<b onclick="x">3</b> & "quoted 7" 10.40.2.20:22/tcp 0x80070005 BK-88214 50 %',
		"日本 7 größe=12",
	];

	it.each(texts)("loses and changes nothing of %s", (text) => {
		for (const match of [null, matcher([{ tokens: ["after"] }, { text: "7" }])])
			expect(plain(renderToStaticMarkup(<Message text={text} match={match} />))).toBe(
				plain(renderToStaticMarkup(<p>{text}</p>)),
			);
	});

	it("is never markup", () =>
		expect(renderToStaticMarkup(<Message text="<img src=x>" match={null} tint={false} />)).toBe("&lt;img src=x&gt;"));

	it("has its matches marked within what varies", () => {
		const html = renderToStaticMarkup(<Message text="after 30000 ms" match={matcher([{ tokens: ["30000"] }])} />);
		expect(html).toContain(">30000</mark>");
	});
});
