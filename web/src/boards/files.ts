import { postedFile } from "../api/client";
import type { Card } from "../cards/api";
import type { Question } from "../shared/question";
import { fileName, save } from "../shared/save";
import { utcOffset } from "../shared/time";
import { dots, standalone } from "./picture";

/** Files with a card's figures, by their ending. */
export const TABLES = { csv: "CSV", xlsx: "XLSX" } as const;
/** Files with its picture. */
export const PICTURES = { png: "PNG", svg: "SVG" } as const;
/** Cards that are one drawing. */
export const DRAWN = ["line", "area", "bars", "stacked", "share", "rail", "map"];

/** Saves the figures of a card, of the time and the conditions that it is shown with. */
export async function saveFigures(card: Card, question: Question, zone: string, form: keyof typeof TABLES) {
	const query = new URLSearchParams(card.query);
	query.delete("chip");
	for (const chip of question.chips) query.append("chip", chip);
	const { id, drawing, title = "" } = card;
	const file = await postedFile("/api/boards/figures", {
		definition: { title: title || "Figures", cards: [{ id, drawing, title, query: query.toString() }] },
		compared: "",
		from_us: question.fromUs,
		to_us: question.toUs,
		zone,
		utc_offset: utcOffset(question.fromUs ?? Date.now() * 1000, zone),
		form,
	});
	save(fileName(title, form), file);
}

/** Saves a drawing as it is on the page. */
export async function savePicture(drawing: SVGSVGElement, title: string, form: keyof typeof PICTURES) {
	const ground = getComputedStyle(drawing.closest("section") ?? drawing).backgroundColor;
	const svg = standalone(drawing, ground);
	const { width, height } = drawing.getBoundingClientRect();
	const file = form === "svg" ? new Blob([svg], { type: "image/svg+xml" }) : await dots(svg, width, height);
	save(fileName(title, form), file);
}
