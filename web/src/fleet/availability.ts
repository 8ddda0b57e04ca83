import type { Group } from "./api";

/** Never 100 % where something is missing. */
export function percent(part: number, whole: number): string {
	if (whole === 0) return "–";
	const share = (100 * part) / whole;
	return share === 100 ? "100 %" : `${(Math.floor(share * 100) / 100).toFixed(2)} %`;
}

/** Time that machines of groups were up, of that which is known. */
export function share(groups: Pick<Group, "days">[]): { up: number; known: number } {
	const days = groups.flatMap((group) => group.days);
	const sum = (part: "up_us" | "known_us") => days.reduce((all, one) => all + one[part], 0);
	return { up: sum("up_us"), known: sum("known_us") };
}
