import type { MouseEvent } from "react";
import type { Part } from "./api";
import classes from "./Rules.module.css";

interface Stretch extends Part {
	text: string;
	/** Its place among the chosen parts. */
	chosen: number | null;
	piece: boolean;
}

const end = (part: Part) => part.at + part.size;

/** The line cut into what is chosen, what can be, and what stands between. */
function stretches(text: string[], pieces: Part[], parts: Part[]): Stretch[] {
	const free = pieces.filter((piece) => parts.every((part) => end(piece) <= part.at || piece.at >= end(part)));
	const marked = [
		...parts.map((part, chosen) => ({ ...part, chosen, piece: true })),
		...free.map((piece) => ({ ...piece, chosen: null, piece: true })),
	].sort((one, other) => one.at - other.at);
	const all: Stretch[] = [];
	let at = 0;
	const put = (part: Omit<Stretch, "text">) => {
		if (part.size > 0) all.push({ ...part, text: text.slice(part.at, end(part)).join("") });
	};
	for (const part of marked) {
		put({ at, size: part.at - at, name: null, chosen: null, piece: false });
		put(part);
		at = end(part);
	}
	put({ at, size: text.length - at, name: null, chosen: null, piece: false });
	return all;
}

interface Props {
	message: string;
	pieces: Part[];
	parts: Part[];
	onParts: (parts: Part[]) => void;
}

/** A sample whose parts are chosen by clicking: again lets one go, with the shift key the part before reaches to here. */
export function SampleLine({ message, pieces, parts, onParts }: Props) {
	const text = Array.from(message);
	const click = (stretch: Stretch, event: MouseEvent) => {
		if (stretch.chosen !== null) return onParts(parts.filter((_, index) => index !== stretch.chosen));
		const before = parts.filter((part) => part.at < stretch.at).at(-1);
		if (event.shiftKey && before) {
			const wider = { ...before, size: end(stretch) - before.at };
			return onParts(parts.map((part) => (part === before ? wider : part)));
		}
		const part = { at: stretch.at, size: stretch.size, name: stretch.name };
		onParts([...parts, part].sort((one, other) => one.at - other.at));
	};
	return (
		<p className={classes.sample} data-sample>
			{stretches(text, pieces, parts).map((stretch) =>
				stretch.piece ? (
					<button
						key={stretch.at}
						type="button"
						aria-pressed={stretch.chosen !== null}
						style={stretch.chosen === null ? undefined : { borderColor: `var(--series-${stretch.chosen % 10})` }}
						onClick={(event) => click(stretch, event)}
					>
						{stretch.text}
					</button>
				) : (
					<span key={stretch.at}>{stretch.text}</span>
				),
			)}
		</p>
	);
}
