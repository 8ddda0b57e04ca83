import { useState } from "react";

interface Listed {
	/** Higher for what came later. */
	id: number;
}

/**
 * A list that does not move while somebody looks at it: what came since it was asked for waits until it is asked for,
 * the rest changes where it stands. Where there was nothing, there is nothing to move.
 */
export function useCalm<One extends Listed>(latest: One[] | undefined, newest: number, asked: string) {
	const [held, setHeld] = useState<{ asked: string; until: number } | null>(null);
	const all = latest ?? [];
	const kept = held?.asked === asked && all.some(({ id }) => id <= held.until);
	const until = kept ? held.until : newest;
	if (all.length > 0 && !kept) setHeld({ asked, until });
	return {
		shown: all.filter(({ id }) => id <= until),
		fresh: all.filter(({ id }) => id > until).length,
		show: () => setHeld({ asked, until: newest }),
	};
}
