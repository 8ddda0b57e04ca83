import { severityColor, severityName } from "../shared/severity";
import { type Machine, worst } from "./api";

export function short(text: string, most: number): string {
	return text.length > most ? `${text.slice(0, most - 1)}…` : text;
}

/** How a machine is, as a sign beside its colour. */
export function state(machine: Machine): { sign: string; words: string; colour: string } {
	const bad = worst(machine);
	if (bad !== null)
		return { sign: "!".repeat(bad <= 2 ? 3 : bad === 3 ? 2 : 1), words: severityName(bad), colour: severityColor(bad) };
	if (machine.silent_us !== null) return { sign: "–", words: "silent", colour: "var(--severity-unset)" };
	if (machine.heard_us === null) return { sign: "?", words: "no line ever", colour: "var(--rule)" };
	return { sign: "✓", words: "nothing open", colour: "var(--severity-notice)" };
}
