import type { ReactNode } from "react";
import type { Highlight } from "../api/types";
import classes from "./Lines.module.css";

const INSIDE = "[\\p{L}\\p{N}_]";

function literal(text: string): string {
	return text.replace(/[\\^$.*+?()[\]{}|/-]/g, "\\$&");
}

function source(highlight: Highlight): string | null {
	if (highlight.tokens) {
		const body = highlight.tokens.map(literal).join("[^\\p{L}\\p{N}_]+");
		return `(?<!${INSIDE})${body}${highlight.open ? `${INSIDE}*` : `(?!${INSIDE})`}`;
	}
	if (highlight.text) return literal(highlight.text);
	return highlight.pattern ?? null;
}

/** One expression for all that the find text looks for; what the browser cannot read is left out. */
export function matcher(highlights: Highlight[]): RegExp | null {
	const parts = highlights.map(source).filter((part): part is string => {
		if (!part) return false;
		try {
			new RegExp(part, "giu");
			return true;
		} catch {
			return false;
		}
	});
	return parts.length ? new RegExp(parts.map((part) => `(?:${part})`).join("|"), "giu") : null;
}

/** The parts of a message that vary from line to line: quoted texts, addresses, paths, ids and numbers with their units. */
const VARIABLE =
	/"[^"]{1,200}"|'[^']{1,200}'|\b[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}\b|\b\d{1,3}(?:\.\d{1,3}){3}(?:[:/]\d+)?\b|\b[A-Z]{2,}-\d+\b|\b0x[0-9a-f]+\b|\b(?=[0-9a-f]*\d)[0-9a-f]{6,}(?:-[0-9a-f]+)*\b|(?<![\w.])-?\d+(?:[.,:]\d+)*(?:\/\d+)?%?(?![\w])/gi;

function tinted(text: string, key: string): ReactNode[] {
	const nodes: ReactNode[] = [];
	let at = 0;
	for (const match of text.matchAll(VARIABLE)) {
		if (match.index > at) nodes.push(text.slice(at, match.index));
		nodes.push(
			<span key={`${key}v${match.index}`} className={classes.variable}>
				{match[0]}
			</span>,
		);
		at = match.index + match[0].length;
	}
	if (at < text.length) nodes.push(text.slice(at));
	return nodes;
}

/** Longer messages are shown without tints: nobody reads them in a row of the list. */
const LONGEST_TINTED = 4000;

/** A message with its matches marked and its variable parts tinted. It is text: nothing in it is ever markup. */
export function Message({ text, match, tint = true }: { text: string; match: RegExp | null; tint?: boolean }) {
	const colour = tint && text.length <= LONGEST_TINTED ? tinted : (part: string) => [part];
	if (!match) return <>{colour(text, "")}</>;
	const nodes: ReactNode[] = [];
	let at = 0;
	for (const found of text.matchAll(match)) {
		if (!found[0]) continue;
		if (found.index > at) nodes.push(...colour(text.slice(at, found.index), `p${at}`));
		nodes.push(
			<mark key={`m${found.index}`} className={classes.match}>
				{found[0]}
			</mark>,
		);
		at = found.index + found[0].length;
	}
	if (at < text.length) nodes.push(...colour(text.slice(at), `p${at}`));
	return <>{nodes}</>;
}
