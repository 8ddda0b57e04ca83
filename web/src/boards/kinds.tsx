import type { ComponentType } from "react";
import type { CardAnswer } from "../cards/api";
import type { Question } from "../shared/question";
import { AlertsCard } from "./AlertsCard";
import { AvailabilityCard } from "./AvailabilityCard";
import { EntriesCard } from "./EntriesCard";
import { LanesCard } from "./LanesCard";
import { MapCard } from "./MapCard";
import { MeasuredCard } from "./MeasuredCard";
import { PatternsCard } from "./PatternsCard";
import { RailCard } from "./RailCard";
import { WordsCard } from "./WordsCard";

export interface KindProps {
	answer: CardAnswer;
	drawing: string;
	/** Whose lines a mark is about, with the time that was answered for. */
	question: Question;
	/** Pixels that there are. */
	width: number;
	height: number;
	/** Whether its figures are wanted in the place of the drawing. */
	figures: boolean;
}

/** How a card's answer is drawn, by what it tells. */
const KINDS: Partial<Record<keyof CardAnswer, ComponentType<KindProps>>> = {
	measurement: MeasuredCard,
	patterns: PatternsCard,
	words: WordsCard,
	logbook: EntriesCard,
	alerts: AlertsCard,
	availability: AvailabilityCard,
	map: MapCard,
};

export function kindOf(answer: CardAnswer, drawing: string): ComponentType<KindProps> | undefined {
	if (answer.histogram) return drawing === "lanes" ? LanesCard : RailCard;
	const told = (Object.keys(KINDS) as (keyof CardAnswer)[]).find((name) => answer[name] !== undefined);
	return told && KINDS[told];
}
