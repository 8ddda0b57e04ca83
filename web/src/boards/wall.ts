/** Seconds for which a board stays, where nobody says. */
export const EVERY_S = 30;

/** Address of a wall with some boards. */
export function wallLink(boards: string[], every: number): string {
	const params = new URLSearchParams(boards.map((id): [string, string] => ["board", id]));
	params.set("every", String(every));
	return `/wall?${params}`;
}

/** What an address of a wall says. */
export function wallOf(params: URLSearchParams): { boards: number[]; everyMs: number } {
	const every = Number(params.get("every"));
	return {
		boards: params.getAll("board").map(Number).filter(Number.isInteger),
		everyMs: (Number.isFinite(every) && every > 0 ? every : EVERY_S) * 1000,
	};
}
