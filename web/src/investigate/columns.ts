import { useCallback, useState } from "react";

/** Widths in pixels of the list's columns; the message takes what is left. */
const WIDTHS: Record<string, number> = { time: 134, machine: 100, service: 92 };
const OTHER = 120;
const NARROWEST = 40;
const WIDEST = 600;
const KEY = "northdrift.columns";

export const USUAL = ["time", "machine", "service"];

export function useWidths() {
	const [widths, setWidths] = useState<Record<string, number>>(() => {
		try {
			return JSON.parse(localStorage.getItem(KEY) ?? "{}") as Record<string, number>;
		} catch {
			return {};
		}
	});
	const width = useCallback((column: string) => widths[column] ?? WIDTHS[column] ?? OTHER, [widths]);
	const resize = useCallback((column: string, to: number) => {
		setWidths((now) => {
			const next = { ...now, [column]: Math.round(Math.min(Math.max(to, NARROWEST), WIDEST)) };
			localStorage.setItem(KEY, JSON.stringify(next));
			return next;
		});
	}, []);
	return { width, resize };
}
