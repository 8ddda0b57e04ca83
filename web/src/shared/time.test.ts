import { describe, expect, it } from "vitest";
import { clockExact, duration, fromIso, fromWall, stepName, toIso, utcOffset, wall, windowName } from "./time";

const HOUR = 3_600_000_000;
const at = (iso: string) => fromIso(iso) ?? Number.NaN;

// Changes of the clock as the time zone database has them: Oslo at 01:00 UTC on 29 March and 25 October 2026, Lord Howe by half
// an hour, Apia without the whole of 30 December 2011.
describe("the wall clock", () => {
	it.each([
		["Europe/Oslo", "2026-03-29T00:59:59Z", "2026-03-29 01:59:59", 3600],
		["Europe/Oslo", "2026-03-29T01:00:00Z", "2026-03-29 03:00:00", 7200],
		["Europe/Oslo", "2026-10-25T00:30:00Z", "2026-10-25 02:30:00", 7200],
		["Europe/Oslo", "2026-10-25T01:30:00Z", "2026-10-25 02:30:00", 3600],
		["Australia/Lord_Howe", "2026-10-03T15:29:59Z", "2026-10-04 01:59:59", 37_800],
		["Australia/Lord_Howe", "2026-10-03T15:30:00Z", "2026-10-04 02:30:00", 39_600],
		["Pacific/Apia", "2011-12-30T09:59:59Z", "2011-12-29 23:59:59", -36_000],
		["Pacific/Apia", "2011-12-30T10:00:00Z", "2011-12-31 00:00:00", 50_400],
		["Asia/Kathmandu", "2026-11-22T06:12:08Z", "2026-11-22 11:57:08", 20_700],
	])("in %s at %s", (zone, iso, text, offset) => {
		expect(wall(at(iso), zone)).toBe(text);
		expect(utcOffset(at(iso), zone)).toBe(offset);
	});

	it("is read as it is shown, but in the hour that comes twice", () => {
		for (const zone of ["UTC", "Europe/Oslo", "America/St_Johns", "Australia/Lord_Howe"])
			for (let us = at("2026-01-01T00:00:00Z"); us < at("2027-01-01T00:00:00Z"); us += 7 * HOUR + 1_000_000) {
				const again = fromWall(wall(us, zone), zone);
				expect(wall(again, zone)).toBe(wall(us, zone));
				expect(Math.abs(again - us)).toBeLessThanOrEqual(HOUR);
			}
	});

	it("reads a time that the change leaves out as one beside it", () => {
		const missing = fromWall("2026-03-29 02:30:00", "Europe/Oslo");
		expect([at("2026-03-29T00:30:00Z"), at("2026-03-29T01:30:00Z")]).toContain(missing);
	});
});

describe("moments in links", () => {
	it.each([
		"2026-11-22T06:12:08Z",
		"2026-11-22T06:12:08.5Z",
		"2026-11-22T06:12:08.000001Z",
		"1969-12-31T23:59:59.999999Z",
	])("%s is written as it was read", (iso) => expect(toIso(at(iso))).toBe(iso));

	it.each(["", "now", "2026-11-22", "2026-11-22T06:12:08", "2026-11-22T06:12:08+01:00", "2026-02-30T25:00:00Z"])(
		"“%s” is none",
		(text) => expect(fromIso(text)).toBeNull(),
	);

	it("keeps microseconds that two neighbours differ by", () => {
		const us = at("2026-11-22T06:12:08.417001Z");
		expect(clockExact(us, "UTC")).toBe("06:12:08.417001");
		expect(clockExact(us - 1, "UTC")).toBe("06:12:08.417");
	});
});

describe("names", () => {
	it.each([
		[0, "0 ms"],
		[999, "999 µs"],
		[1_000_000, "1 s"],
		[59_499_999, "59 s"],
		[60_000_000, "1 min"],
		[3_599_600_000, "1 h"],
		[90_061_000_000, "1 d 1 h"],
	])("%i µs last %s", (us, text) => expect(duration(us)).toBe(text));

	it("says a window of a day in its zone by the day alone", () => {
		const year = new Date().getUTCFullYear();
		const [from, to] = [
			fromWall(`${year}-10-25 00:00:00`, "Europe/Oslo"),
			fromWall(`${year}-10-26 00:00:00`, "Europe/Oslo"),
		];
		expect(windowName(from, to, "Europe/Oslo")).toBe("25 Oct");
		expect(windowName(from, to, "UTC")).not.toBe("25 Oct");
	});

	it("tells steps apart, however short they are", () => {
		for (const step of [1000, 10_000, 500_000, 1_000_000, 60_000_000, HOUR, 24 * HOUR]) {
			const start = Math.floor(at("2026-10-24T22:00:00Z") / step) * step;
			const names = Array.from({ length: 12 }, (_, index) => stepName(start + index * step, step, "UTC"));
			expect(new Set(names).size, `steps of ${step} µs: ${names}`).toBe(names.length);
		}
	});
});
