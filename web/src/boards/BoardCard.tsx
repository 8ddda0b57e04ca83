import { Textarea } from "@mantine/core";
import { useElementSize, useIntersection, useMergedRef } from "@mantine/hooks";
import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import type { Card, DrawingTitle } from "../cards/api";
import { Markdown } from "../shared/Markdown";
import type { Question } from "../shared/question";
import { useZone } from "../shared/zone";
import type { Shown } from "./answers";
import classes from "./Boards.module.css";
import { ArrangeTools, ReadTools } from "./CardTools";
import { DRAWN, type PICTURES, saveFigures, savePicture } from "./files";
import { kindOf } from "./kinds";

/** How low a chart may be. */
const LOW = 60;
/** Drawings that have a chart in the place of their figures. */
const CHARTS = ["line", "area", "bars", "stacked", "number"];

export interface CardProps {
	card: Card;
	drawings: DrawingTitle[];
	shown: Shown | undefined;
	question: Question;
	arranging: boolean;
	onChange: (card: Card) => void;
	onRemove: () => void;
	onDuplicate: () => void;
	/** It has come into sight. */
	onSeen: () => void;
}

type ContentProps = Pick<CardProps, "card" | "shown" | "question" | "arranging" | "onChange"> & {
	width: number;
	height: number;
	figures: boolean;
};

function TextCard({ card, arranging, onChange }: Pick<CardProps, "card" | "arranging" | "onChange">) {
	if (!arranging) return <Markdown text={card.text ?? ""} />;
	return (
		<Textarea
			aria-label="Text of the card, Markdown"
			value={card.text ?? ""}
			autosize
			minRows={3}
			onChange={(event) => onChange({ ...card, text: event.currentTarget.value })}
		/>
	);
}

function Content({ card, shown, question, arranging, width, height, figures, onChange }: ContentProps) {
	if (card.drawing === "text") return <TextCard card={card} arranging={arranging} onChange={onChange} />;
	if (shown?.problem)
		return (
			<p className={classes.problem} role="alert">
				{shown.problem.detail}
			</p>
		);
	const Kind = shown?.answer && kindOf(shown.answer, card.drawing);
	if (!shown?.answer || !Kind) return <p className={classes.hint}>Counting…</p>;
	return (
		<Kind
			answer={shown.answer}
			drawing={card.drawing}
			question={question}
			width={width}
			height={height}
			figures={figures}
		/>
	);
}

/** What a card tells, beside its title. */
function about(card: Card, drawings: DrawingTitle[], question: Question): string {
	const drawing = drawings.find(({ name }) => name === card.drawing);
	const told = drawing?.asks === "measurement" ? question.measure || "count" : (drawing?.title ?? "");
	return card.window ? `${told}, ${card.window}` : told;
}

/** One card of a board: its title, what it tells, and that drawn. */
export function BoardCard(props: CardProps) {
	const { card, drawings, arranging, shown, onSeen } = props;
	const size = useElementSize();
	const sight = useIntersection({ rootMargin: "200px" });
	const seen = sight.entry?.isIntersecting ?? false;
	const [figures, setFigures] = useState(false);
	const { zone } = useZone();
	const section = useRef<HTMLElement>(null);
	const ref = useMergedRef(section, sight.ref);
	const saved = useMutation({ mutationFn: (work: () => Promise<void>) => work() });
	const asks = card.drawing !== "text";
	const answer = shown?.answer;
	// Its marks lead to the time that it was counted for.
	const question = answer ? { ...props.question, fromUs: answer.from_us, toUs: answer.to_us } : props.question;
	const picture = (form: keyof typeof PICTURES) =>
		saved.mutate(async () => {
			const drawing = section.current?.querySelector<SVGSVGElement>("[data-drawing] svg");
			if (drawing) await savePicture(drawing, card.title ?? "", form);
		});
	useEffect(() => {
		if (seen) onSeen();
	}, [seen, onSeen]);
	return (
		<section
			ref={ref}
			className={classes.card}
			aria-label={card.title || "a card"}
			data-card={card.title}
			aria-busy={asks && !shown}
		>
			{arranging ? (
				<ArrangeTools {...props} />
			) : (
				<div className={classes.cardHead}>
					<h2>
						{card.title || question.find || "everything"}{" "}
						{asks && <span className={classes.second}>{about(card, drawings, question)}</span>}
					</h2>
					{asks && (
						<ReadTools
							card={card}
							question={question}
							figures={CHARTS.includes(card.drawing) ? figures : null}
							onFigures={() => setFigures((now) => !now)}
							onTable={(form) => saved.mutate(() => saveFigures(card, question, zone, form))}
							onPicture={DRAWN.includes(card.drawing) && !figures ? picture : null}
						/>
					)}
				</div>
			)}
			{saved.error && (
				<p className={classes.problem} role="alert">
					{saved.error.message}
				</p>
			)}
			<div className={classes.content} ref={size.ref} data-drawing={figures ? "figures" : card.drawing}>
				<Content
					{...props}
					question={question}
					width={size.width}
					height={Math.max(size.height, LOW)}
					figures={figures}
				/>
			</div>
		</section>
	);
}
