import { COLUMNS, type Place } from "../cards/api";

const MOVES: Record<string, [number, number]> = {
	ArrowLeft: [-1, 0],
	ArrowRight: [1, 0],
	ArrowUp: [0, -1],
	ArrowDown: [0, 1],
};
const LEAST = { w: 2, h: 3 };
const MOST_ROWS = 40;

const between = (least: number, value: number, most: number) => Math.min(Math.max(value, least), most);

/** Where a card stands after a key: arrows move it, and with Shift they change its size. */
export function moved({ x, y, w, h }: Place, key: string, sized: boolean): Place | null {
	const move = MOVES[key];
	if (!move) return null;
	const [right, down] = move;
	if (!sized) return { x: between(0, x + right, COLUMNS - w), y: Math.max(0, y + down), w, h };
	return { x, y, w: between(LEAST.w, w + right, COLUMNS - x), h: between(LEAST.h, h + down, MOST_ROWS) };
}
