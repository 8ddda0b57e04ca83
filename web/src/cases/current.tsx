import { createContext, type ReactNode, useCallback, useContext, useState } from "react";
import { type Case, type Pinned, useCase, useCaseChanges } from "./api";

const KEY = "northdrift.case";

interface Current {
	/** The case that things are pinned to. */
	current: Case | null;
	choose: (id: number | null) => void;
	/** Pins something to it; without one, a case is asked for first. */
	pin: (what: Pinned, title: string) => void;
	/** What is to be pinned, and waits for a case. */
	waiting: { what: Pinned; title: string } | null;
	giveUp: () => void;
	/** What was done last. */
	told: string | null;
}

const Context = createContext<Current>({
	current: null,
	choose: () => {},
	pin: () => {},
	waiting: null,
	giveUp: () => {},
	told: null,
});

const TOLD_MS = 4000;

/** The case that a person works on: it stays on across screens, in this browser. */
export function CaseProvider({ children }: { children: ReactNode }) {
	const [id, setId] = useState(() => Number(localStorage.getItem(KEY)) || null);
	const [waiting, setWaiting] = useState<Current["waiting"]>(null);
	const [told, setTold] = useState<string | null>(null);
	const { data, isError } = useCase(id);
	const { pin: keep } = useCaseChanges();
	const current = data && !isError && data.id === id && data.status === "open" ? data : null;

	const tell = useCallback((words: string) => {
		setTold(words);
		window.setTimeout(() => setTold((now) => (now === words ? null : now)), TOLD_MS);
	}, []);
	const put = (to: number, what: Pinned) =>
		keep.mutate(
			{ id: to, what },
			{ onSuccess: (pin) => tell(`pinned: ${pin.text.slice(0, 60)}`), onError: (error) => tell(error.message) },
		);
	const choose = (next: number | null) => {
		if (next === null) localStorage.removeItem(KEY);
		else localStorage.setItem(KEY, String(next));
		setId(next);
		if (next !== null && waiting) {
			put(next, waiting.what);
			setWaiting(null);
		}
	};
	const pin = (what: Pinned, title: string) => {
		if (current) put(current.id, what);
		else setWaiting({ what, title });
	};
	return <Context value={{ current, choose, pin, waiting, giveUp: () => setWaiting(null), told }}>{children}</Context>;
}

export function useCurrentCase(): Current {
	return useContext(Context);
}
