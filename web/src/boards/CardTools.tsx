import { Menu, TextInput } from "@mantine/core";
import type { KeyboardEvent } from "react";
import { Link } from "react-router";
import { type Card, type Drawing, type DrawingTitle, placeOf } from "../cards/api";
import type { Question } from "../shared/question";
import { write } from "../shared/question";
import classes from "./Boards.module.css";
import { PICTURES, TABLES } from "./files";
import { moved } from "./moved";

interface ArrangeProps {
	card: Card;
	drawings: DrawingTitle[];
	onChange: (card: Card) => void;
	onRemove: () => void;
	onDuplicate: () => void;
}

/** What of a card is changed in its place. */
export function ArrangeTools({ card, drawings, onChange, onRemove, onDuplicate }: ArrangeProps) {
	const move = (event: KeyboardEvent) => {
		const place = moved(placeOf(card), event.key, event.shiftKey);
		if (!place) return;
		event.preventDefault();
		onChange({ ...card, place });
	};
	const drawn = drawings.filter(({ name }) => (name === "text") === (card.drawing === "text"));
	return (
		<div className={classes.changing}>
			<button
				type="button"
				className={classes.handle}
				data-handle
				aria-label={`Move “${card.title}”: arrows move it, with Shift they change its size`}
				title="drag it; or arrows move it, with Shift they change its size"
				onKeyDown={move}
			>
				⠿
			</button>
			<TextInput
				size="xs"
				aria-label="Title of the card"
				value={card.title ?? ""}
				onChange={(event) => onChange({ ...card, title: event.currentTarget.value })}
			/>
			{card.drawing !== "text" && (
				<TextInput
					size="xs"
					w={96}
					aria-label={`Time of “${card.title}”`}
					placeholder="board’s time"
					title="words for a time of its own, such as last 7 days"
					value={card.window ?? ""}
					onChange={(event) => onChange({ ...card, window: event.currentTarget.value })}
				/>
			)}
			<Menu position="bottom-end" withinPortal>
				<Menu.Target>
					<button type="button" className={classes.more} aria-label={`Change “${card.title}”`}>
						⋯
					</button>
				</Menu.Target>
				<Menu.Dropdown className={classes.tall}>
					{drawn.length > 1 && <Menu.Label>Draw as</Menu.Label>}
					{drawn.length > 1 &&
						drawn.map(({ name, title }) => (
							<Menu.Item
								key={name}
								leftSection={<span aria-hidden>{name === card.drawing ? "✓" : "\u2003"}</span>}
								onClick={() => onChange({ ...card, drawing: name as Drawing })}
							>
								{title}
							</Menu.Item>
						))}
					<Menu.Divider />
					<Menu.Item onClick={onDuplicate}>Duplicate the card</Menu.Item>
					<Menu.Item onClick={onRemove}>Remove the card</Menu.Item>
				</Menu.Dropdown>
			</Menu>
		</div>
	);
}

interface ReadProps {
	card: Card;
	question: Question;
	figures: boolean | null;
	onFigures: () => void;
	onTable: (form: keyof typeof TABLES) => void;
	/** Nothing where it is no single drawing. */
	onPicture: ((form: keyof typeof PICTURES) => void) | null;
}

/** Where a card's question is asked in full. */
const VIEWS: Partial<Record<Drawing, Question["view"]>> = { patterns: "patterns", words: "words" };

export function questionLink(card: Card, question: Question): string {
	if (card.drawing === "rail" || card.drawing === "lanes") {
		const lanes = question.lanes || "machine";
		return `/?${write({ ...question, lanes: card.drawing === "lanes" ? lanes : "", view: "lines" })}`;
	}
	return `/?${write({ ...question, view: VIEWS[card.drawing] ?? "measure" })}`;
}

/** What is done with a card that is read. */
export function ReadTools({ card, question, figures, onFigures, onTable, onPicture }: ReadProps) {
	return (
		<Menu position="bottom-end" withinPortal>
			<Menu.Target>
				<button type="button" className={classes.more} aria-label={`More of “${card.title}”`}>
					⋯
				</button>
			</Menu.Target>
			<Menu.Dropdown>
				{figures !== null && (
					<Menu.Item onClick={onFigures}>{figures ? "Show the chart" : "Show the figures"}</Menu.Item>
				)}
				<Menu.Item component={Link} to={questionLink(card, question)}>
					Open in Investigate
				</Menu.Item>
				<Menu.Divider />
				{Object.entries(TABLES).map(([form, name]) => (
					<Menu.Item key={form} onClick={() => onTable(form as keyof typeof TABLES)}>
						Save figures as {name}
					</Menu.Item>
				))}
				{onPicture &&
					Object.entries(PICTURES).map(([form, name]) => (
						<Menu.Item key={form} onClick={() => onPicture(form as keyof typeof PICTURES)}>
							Save picture as {name}
						</Menu.Item>
					))}
			</Menu.Dropdown>
		</Menu>
	);
}
