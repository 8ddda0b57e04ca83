import { describe, expect, it } from "vitest";
import { inFold, stepOfTime, timeOfStep } from "./folds";

// Steps of ten; between 100 and 900 nothing, which takes four steps.
const STEPS = { start_us: 0, step_us: 10, folds: [{ step: 10, from_us: 100, to_us: 900 }], fold_steps: 4 };

describe("steps around a fold", () => {
	it.each([
		[0, 0],
		[9, 90],
		[9.5, 95],
		[10, 100],
		[12, 500],
		[14, 900],
		[15.5, 915],
	])("step %d is at %d, and back", (step, us) => {
		expect(timeOfStep(STEPS, step)).toBe(us);
		expect(stepOfTime(STEPS, us)).toBe(step);
	});

	it("are within it or not", () =>
		expect([9, 10, 13, 14].map((step) => inFold(STEPS, step))).toEqual([false, true, true, false]));

	it("go on evenly where nothing is folded", () => {
		const even = { ...STEPS, folds: [] };
		expect(timeOfStep(even, 50)).toBe(500);
		expect(stepOfTime(even, 505)).toBe(50.5);
	});
});
