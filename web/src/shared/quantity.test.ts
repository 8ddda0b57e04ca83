import { expect, it } from "vitest";
import { quantity } from "./quantity";

it.each([
	[null, "s", "–"],
	[0, "s", "0 s"],
	[0.0000004, "s", "0.4 µs"],
	[0.25, "s", "250 ms"],
	[59.9, "s", "59.9 s"],
	[-90, "s", "-1.5 min"],
	[999, "B", "999 B"],
	[1_500_000, "B", "1.5 MB"],
	[-2048, "B", "−2.0 kB"],
	[99.95, "%", "100 %"],
	[0.00012, null, "0.00012"],
	[1_234_567, null, "1,234,567"],
])("%s %s is shown as %s", (value, unit, text) => expect(quantity(value, unit)).toBe(text));
