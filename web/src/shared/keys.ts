import { useEffect, useRef } from "react";

export type Bindings = Record<string, (event: KeyboardEvent) => void>;

/** What is chosen by a click, and then keeps the focus: letters mean nothing to it. */
function choice(target: EventTarget | null): boolean {
	return target instanceof HTMLInputElement && ["checkbox", "radio"].includes(target.type);
}

function typing(target: EventTarget | null): boolean {
	return (
		target instanceof HTMLElement &&
		!(choice(target) && !target.closest("[role=dialog]")) &&
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
			// It is switched by space, and arrows lead from one to the next.
			if (choice(event.target) && (event.key === " " || event.key.startsWith("Arrow"))) return;
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
