import { useCallback } from "react";
import ReactGridLayout, { type Layout, useContainerWidth } from "react-grid-layout";
import "react-grid-layout/css/styles.css";
import { below, type Card, COLUMNS, type DrawingTitle, placeOf } from "../cards/api";
import type { Question } from "../shared/question";
import type { Shown } from "./answers";
import { BoardCard, type CardProps } from "./BoardCard";
import classes from "./Boards.module.css";

const ROW_HEIGHT = 26;
const GAP = 12;

interface Props {
	cards: Card[];
	drawings: DrawingTitle[];
	shown: Record<string, Shown>;
	questionOf: (card: Card) => Question;
	arranging: boolean;
	onCards: (cards: Card[]) => void;
	/** A card has come into sight. */
	onSeen: (id: string) => void;
}

function Seen({ onSeen, ...props }: Omit<CardProps, "onSeen"> & Pick<Props, "onSeen">) {
	const { id } = props.card;
	return <BoardCard {...props} onSeen={useCallback(() => onSeen(id), [onSeen, id])} />;
}

/** Cards side by side; while they are arranged they are dragged by their handles, and by their corners. */
export function BoardGrid({ cards, drawings, shown, questionOf, arranging, onCards, onSeen }: Props) {
	const { width, containerRef, mounted } = useContainerWidth();
	const layout = cards.map((card) => ({ i: card.id, ...placeOf(card), minW: 2, minH: 3 }));
	const arranged = (next: Layout) => {
		if (!arranging) return;
		const places = new Map(next.map(({ i, x, y, w, h }) => [i, { x, y, w, h }]));
		const changed = cards.some((card) => JSON.stringify(places.get(card.id)) !== JSON.stringify(placeOf(card)));
		if (changed) onCards(cards.map((card) => ({ ...card, place: places.get(card.id) ?? placeOf(card) })));
	};
	const copy = (card: Card): Card => {
		const { w, h } = placeOf(card);
		return { ...card, id: crypto.randomUUID().slice(0, 8), place: { ...below(cards), w, h } };
	};
	return (
		<div ref={containerRef} className={classes.grid} data-arranging={arranging || undefined}>
			{mounted && (
				<ReactGridLayout
					width={width}
					layout={layout}
					gridConfig={{ cols: COLUMNS, rowHeight: ROW_HEIGHT, margin: [GAP, GAP], containerPadding: [0, 0] }}
					dragConfig={{ enabled: arranging, handle: "[data-handle]" }}
					resizeConfig={{ enabled: arranging }}
					onLayoutChange={arranged}
				>
					{cards.map((card) => (
						<div key={card.id}>
							<Seen
								card={card}
								drawings={drawings}
								shown={shown[card.id]}
								question={questionOf(card)}
								arranging={arranging}
								onChange={(next) => onCards(cards.map((one) => (one.id === card.id ? next : one)))}
								onRemove={() => onCards(cards.filter(({ id }) => id !== card.id))}
								onDuplicate={() => onCards([...cards, copy(card)])}
								onSeen={onSeen}
							/>
						</div>
					))}
				</ReactGridLayout>
			)}
		</div>
	);
}
