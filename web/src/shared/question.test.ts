import { describe, expect, it } from "vitest";
import { asked, equals, type Question, quote, read, wholeFind, withChip, write } from "./question";

const NOTHING = read(new URLSearchParams());

function question(patch: Partial<Question>): Question {
	return { ...NOTHING, ...patch };
}

/** The same numbers each time (a linear congruential generator, Numerical Recipes' constants). */
function numbers(seed: number): () => number {
	let state = seed;
	return () => {
		state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
		return state / 2 ** 32;
	};
}

describe("a link", () => {
	it("is empty for the question that asks nothing", () => expect(write(NOTHING).toString()).toBe(""));

	it("of another program names a machine and a moment", () => {
		const { chips, fromUs, toUs } = read(new URLSearchParams("on=tix db-1&at=2026-11-24T06:11:29Z"));
		const at = Date.UTC(2026, 10, 24, 6, 11, 29) * 1000;
		expect([chips, fromUs, toUs]).toEqual([['host.name = "tix db-1"'], at - 300_000_000, at + 300_000_000]);
		expect(read(new URLSearchParams("at=soon"))).toEqual(NOTHING);
	});

	it("reproduces the whole question", () => {
		const next = numbers(3);
		const one = <T>(values: readonly T[]) => values[Math.floor(next() * values.length)] as T;
		const texts = ["", "disk full", 'a "b" & c=d?#+%', "größe = 日本", "x\ny"];
		for (let times = 0; times < 500; times += 1) {
			const line = one([null, "3677893562368002"]);
			const whole: Question = {
				find: one(texts),
				chips: texts.slice(1).filter(() => next() < 0.4),
				fromUs: one([null, 0, 1_795_305_600_000_001, -1_000_000]),
				toUs: one([null, 1_795_305_700_000_000]),
				hidden: one([[], ["debug"], ["error", "unset"]]),
				scope: one(["", "tar & brn"]),
				compared: one(["", "day", "2026-11-22T00:00:00Z/2026-11-23T00:00:00Z"]),
				measure: one(["", "p95(duration_ms) by host.name per 5 min"]),
				view: one(["lines", "patterns", "fields", "words", "measure"]),
				lanes: one(["", "machine", "service"]),
				columns: one([[], ["a.b", "größe"]]),
				wrap: next() < 0.5,
				whole: next() < 0.5,
				trueTime: next() < 0.5,
				noiseShown: next() < 0.5,
				line,
				thread: line ? one(["", "nearby"]) : "",
			};
			expect(read(new URLSearchParams(write(whole).toString()))).toEqual(whole);
		}
	});

	it("that somebody has spoilt asks what is left of it", () => {
		const spoilt = read(
			new URLSearchParams("from=yesterday&to=&hide=error,nonsense&view=pie&lanes=x&columns=,,a&find=ok"),
		);
		expect(spoilt).toEqual(question({ find: "ok", hidden: ["error"], columns: ["a"] }));
	});

	it("says how it is looked at, and the request does not", () => {
		const looked = question({ find: "x", view: "words", wrap: true, columns: ["a"], line: "7", lanes: "machine" });
		expect(asked(looked).toString()).toBe("find=x");
	});
});

describe("conditions", () => {
	it("hold together, each for itself", () => {
		expect(wholeFind(question({ find: "a or b", chips: ["c = d"] }))).toBe("(a or b) (c = d)");
		expect(wholeFind(question({ find: " ", chips: ["c = d"] }))).toBe("c = d");
		expect(wholeFind(NOTHING)).toBe("");
	});

	it("are written once, and take the place of their opposites", () => {
		const one = equals("host.name", "tix-app-1");
		expect(withChip([one], one)).toEqual([one]);
		expect(withChip([one, "x = 1"], "host.name != tix-app-1")).toEqual(["x = 1", "host.name != tix-app-1"]);
		expect(withChip([one], equals("host.name", "tix-app-2"))).toHaveLength(2);
		expect(withChip(['"a = b" = c'], '"a = b" != c')).toEqual(['"a = b" != c']);
	});

	it.each([
		["plain", "plain"],
		["two words", '"two words"'],
		["and", '"and"'],
		['say "x"', '"say \\"x\\""'],
		["back\\slash\\", "back\\slash\\"],
		["a,b", '"a,b"'],
		["*", '"*"'],
	])("a value %s is written %s", (value, text) => expect(quote(value)).toBe(text));
});
