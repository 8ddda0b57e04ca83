import { fromIso, toIso, windowName } from "./time";

/** Windows that a question is compared with, by what stands in its link. */
export const COMPARISONS: Record<string, string> = {
	"": "nothing",
	before: "the window before",
	day: "the day before",
	week: "the week before",
	month: "four weeks before",
};

const INTERVAL = /^([^/\s]+Z)\/([^/\s]+Z)$/;
const CONDITION = /^(host\.name|service\.name) = "?([^"]+)"?$/;

/** Any other window, as an interval of ISO 8601. */
export function interval(fromUs: number, toUs: number): string {
	return `${toIso(fromUs)}/${toIso(toUs)}`;
}

/** The window of an interval; null when it is compared with something else. */
export function intervalOf(compared: string): [number, number] | null {
	const match = INTERVAL.exec(compared);
	const [from, to] = [fromIso(match?.[1] ?? ""), fromIso(match?.[2] ?? "")];
	return from !== null && to !== null ? [from, to] : null;
}

/** As the sentence says it. */
export function comparedName(compared: string, zone: string): string {
	const window = intervalOf(compared);
	if (window) return windowName(window[0], window[1], zone);
	return COMPARISONS[compared] ?? CONDITION.exec(compared)?.[2] ?? compared;
}
