import type { Oddity } from "./api";

const TOGETHER_US = 30 * 60_000_000;

export interface Group {
	head: Oddity;
	/** What the same service did at that time. */
	others: Oddity[];
}

/** One thing shows in many ways: what a service did within half an hour stands under the first, which is most urgent. */
export function groups(oddities: Oddity[]): Group[] {
	const found: Group[] = [];
	for (const one of oddities) {
		const group = found.find(({ head }) => together(head, one));
		if (group) group.others.push(one);
		else found.push({ head: one, others: [] });
	}
	return found;
}

function together(head: Oddity, other: Oddity): boolean {
	if (head.machine === null || head.machine !== other.machine || head.service !== other.service) return false;
	return Math.abs(head.from_us - other.from_us) <= TOGETHER_US;
}
