import { useCallback, useState } from "react";
import { Link } from "react-router";
import { type Card, cardsOf, type Definition, questionOf, useBoards } from "../cards/api";
import { number } from "../shared/time";
import { useAnswers } from "./answers";
import { BoardGrid } from "./BoardGrid";
import classes from "./Boards.module.css";
import type { View } from "./view";

const NOWHERE = { fromUs: null, toUs: null };

/** Cards that have come into sight: those at once are one batch. */
function useBatches() {
	const [batches, setBatches] = useState<string[][]>([]);
	const [waiting] = useState(() => new Set<string>());
	const onSeen = useCallback(
		(id: string) => {
			if (waiting.size === 0)
				queueMicrotask(() =>
					setBatches((now) => {
						const known = new Set(now.flat());
						const fresh = [...waiting].filter((one) => !known.has(one));
						waiting.clear();
						return fresh.length ? [...now, fresh] : now;
					}),
				);
			waiting.add(id);
		},
		[waiting],
	);
	return { batches, onSeen };
}

interface Props {
	definition: Definition;
	view: View;
	arranging?: boolean;
	onCards?: (cards: Card[]) => void;
	foot?: string;
}

/** The cards of a board, and how long they took. */
export function BoardView({ definition, view, arranging = false, onCards = () => {}, foot = "" }: Props) {
	const drawings = useBoards().data?.drawings ?? [];
	const { batches, onSeen } = useBatches();
	const cards = cardsOf(definition);
	const answers = useAnswers(cards, batches, view);
	const problem = view.error ?? answers.error;
	return (
		<>
			{problem && (
				<p className={classes.problem} role="alert">
					{problem.message}
				</p>
			)}
			<div className={classes.scroll}>
				{cards.length === 0 && (
					<p className={classes.hint}>
						No cards yet. Ask something in <Link to="/">Investigate</Link> and put it on this board; or arrange the
						board and add cards here.
					</p>
				)}
				<BoardGrid
					cards={cards}
					drawings={drawings}
					shown={answers.cards}
					questionOf={(card) => questionOf(card, view.conditions, view.span ?? NOWHERE)}
					arranging={arranging}
					onCards={onCards}
					onSeen={onSeen}
				/>
			</div>
			<footer className={classes.foot}>
				<span>
					{answers.milliseconds !== null &&
						batches.length > 0 &&
						`${number(Object.keys(answers.cards).length)} cards in ${number(Math.round(answers.milliseconds))} ms`}
				</span>
				<span>{foot}</span>
				<span>click a mark: exactly its lines</span>
			</footer>
		</>
	);
}
