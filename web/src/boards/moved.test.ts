import { describe, expect, it } from "vitest";
import { moved } from "./moved";

const PLACE = { x: 3, y: 0, w: 6, h: 4 };

describe("a card that is moved by keys", () => {
	it("goes by one and stays on the board", () => {
		expect(moved(PLACE, "ArrowRight", false)).toEqual({ ...PLACE, x: 4 });
		expect(moved({ ...PLACE, x: 6 }, "ArrowRight", false)).toEqual({ ...PLACE, x: 6 });
		expect(moved(PLACE, "ArrowUp", false)).toEqual(PLACE);
		expect(moved(PLACE, "ArrowDown", false)).toEqual({ ...PLACE, y: 1 });
	});

	it("grows up to the edge, and shrinks to what can be read", () => {
		expect(moved(PLACE, "ArrowRight", true)).toEqual({ ...PLACE, w: 7 });
		expect(moved({ ...PLACE, x: 6 }, "ArrowRight", true)).toEqual({ ...PLACE, x: 6 });
		expect(moved({ ...PLACE, w: 2, h: 3 }, "ArrowLeft", true)).toEqual({ ...PLACE, w: 2, h: 3 });
		expect(moved({ ...PLACE, h: 3 }, "ArrowUp", true)).toEqual({ ...PLACE, h: 3 });
		expect(moved({ ...PLACE, h: 40 }, "ArrowDown", true)).toEqual({ ...PLACE, h: 40 });
	});

	it("goes nowhere by other keys", () => {
		expect(moved(PLACE, "Enter", false)).toBeNull();
	});
});
