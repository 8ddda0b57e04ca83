import { Menu, Textarea, TextInput } from "@mantine/core";
import { useElementSize } from "@mantine/hooks";
import type { KeyboardEvent } from "react";
import { Link } from "react-router";
import { type Card, type Drawing, placeOf, type Shown } from "../cards/api";
import { Markdown } from "../shared/Markdown";
import { type Question, write } from "../shared/question";
import classes from "./Boards.module.css";
import { CardChart } from "./CardChart";
import { moved } from "./moved";

/** By which the legend of a chart reaches below it; and how low a chart may be. */
const LEGEND = 20;
const LOW = 60;

interface Props {
	card: Card;
	drawings: { name: string; title: string }[];
	shown: Shown | undefined;
	question: Question;
	arranging: boolean;
	onChange: (card: Card) => void;
	onRemove: () => void;
}

/** What of a card is changed in its place. */
function Changing({ card, drawings, onChange, onRemove }: Omit<Props, "shown" | "question" | "arranging">) {
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
			<Menu position="bottom-end" withinPortal>
				<Menu.Target>
					<button type="button" className={classes.more} aria-label={`Change “${card.title}”`}>
						⋯
					</button>
				</Menu.Target>
				<Menu.Dropdown>
					{drawn.length > 1 && <Menu.Label>drawn as</Menu.Label>}
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
					<Menu.Item onClick={onRemove}>Remove the card</Menu.Item>
				</Menu.Dropdown>
			</Menu>
		</div>
	);
}

function Content({
	card,
	shown,
	question,
	arranging,
	height,
	onChange,
}: Omit<Props, "drawings" | "onRemove"> & { height: number }) {
	if (card.drawing === "text")
		return arranging ? (
			<Textarea
				aria-label="Text of the card, Markdown"
				value={card.text ?? ""}
				autosize
				minRows={3}
				onChange={(event) => onChange({ ...card, text: event.currentTarget.value })}
			/>
		) : (
			<Markdown text={card.text ?? ""} />
		);
	if (shown?.problem)
		return (
			<p className={classes.problem} role="alert">
				{shown.problem.detail}
			</p>
		);
	if (!shown?.answer) return <p className={classes.hint}>Counting…</p>;
	return <CardChart answer={shown.answer} drawing={card.drawing} question={question} height={height} />;
}

/** One card of a board: its title, what it measures, and that drawn. */
export function BoardCard(props: Props) {
	const { card, question, arranging, shown } = props;
	const { ref, height } = useElementSize();
	const measures = card.drawing !== "text";
	return (
		<section
			className={classes.card}
			aria-label={card.title || "a card"}
			data-card={card.title}
			aria-busy={measures && !shown}
		>
			{arranging ? (
				<Changing {...props} />
			) : (
				<h2>
					{measures ? (
						<Link to={`/?${write({ ...question, view: "measure" })}`} title="Open in Investigate">
							{card.title || question.find || "everything"}
						</Link>
					) : (
						card.title
					)}{" "}
					{measures && <span className={classes.second}>{question.measure || "count"}</span>}
				</h2>
			)}
			<div className={classes.content} ref={ref} data-drawing={card.drawing}>
				<Content {...props} height={Math.max(height - LEGEND, LOW)} />
			</div>
		</section>
	);
}
