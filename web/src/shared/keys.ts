import { useEffect, useRef } from "react";

export type Bindings = Record<string, (event: KeyboardEvent) => void>;

function typing(target: EventTarget | null): boolean {
	return (
		target instanceof HTMLElement &&
		(target.isContentEditable ||
			["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName) ||
			target.closest("[role=dialog], [role=menu], [role=listbox]:not([data-lines])") !== null)
	);
}

/** Single keys for the whole screen, the list of lines included. None fires while a person types, or with a modifier held. */
export function useKeys(bindings: Bindings): void {
	const latest = useRef(bindings);
	latest.current = bindings;
	useEffect(() => {
		const onKey = (event: KeyboardEvent) => {
			if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return;
			const action = latest.current[event.key];
			if (!action) return;
			// A button that has the focus is pressed by Enter and space, whatever else they mean.
			if (
				(event.key === "Enter" || event.key === " ") &&
				event.target instanceof HTMLElement &&
				event.target.closest("button, a, [role=slider], [role=option]")
			)
				return;
			event.preventDefault();
			action(event);
		};
		window.addEventListener("keydown", onKey);
		return () => window.removeEventListener("keydown", onKey);
	}, []);
}
