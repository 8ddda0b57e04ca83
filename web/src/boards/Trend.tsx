import { Link } from "react-router";
import { quantity } from "../shared/quantity";
import type { Question } from "../shared/question";
import { clock, DAY_US, day } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./Boards.module.css";
import { linesOf, type Measured } from "./links";

/** By chance it is as rare as this, or rarer. */
const SURE = 0.001;
const LIKELY = 0.05;
/** A level that differs by less is the same to who looks at it. */
const SLIGHT = 1.05;

interface Props {
	measured: Measured;
	question: Question;
}

interface Level {
	atUs: number;
	sure: boolean;
	rises: boolean;
	words: string;
	title: string;
}

/** "3.4 ×", or what it was or became of nothing. */
function change(least: number, most: number, rises: boolean): string {
	if (least <= 0) return rises ? "from none" : "to none";
	const ratio = most / least;
	return `${ratio < 10 ? ratio.toFixed(1) : Math.round(ratio)} ×`;
}

/** Since when the level is another; null where chance explains it. */
function levelOf({ trend, unit }: Measured): Level | null {
	if (!trend || trend.p > LIKELY) return null;
	const { before, after } = trend;
	const rises = after > before;
	const [least, most] = [Math.min(before, after), Math.max(before, after)];
	if (least > 0 && most / least < SLIGHT) return null;
	return {
		atUs: trend.at_us,
		sure: trend.p <= SURE,
		rises,
		words: change(least, most, rises),
		title: `a step has ${quantity(after, unit)} on average, and had ${quantity(before, unit)} before; p = ${trend.p.toPrecision(2)} (Pettitt’s test)`,
	};
}

function useMoment(question: Question) {
	const { zone } = useZone();
	const days = (question.toUs ?? 0) - (question.fromUs ?? 0) > DAY_US;
	return (us: number) => `${days ? `${day(us, zone)} ` : ""}${clock(us, zone).slice(0, 5)}`;
}

/** Up, down or steady, and since when. */
export function Trend({ measured, question }: Props) {
	const level = levelOf(measured);
	const moment = useMoment(question);
	if (!level) return measured.trend ? <span className={classes.second}>→ steady</span> : null;
	return (
		<Link
			to={linesOf(question, { fromUs: level.atUs })}
			className={classes.trend}
			data-rises={level.rises}
			title={level.title}
		>
			{level.rises ? "↗" : "↘"} {level.words} since {moment(level.atUs)} {level.sure ? "(sure)" : "(likely)"}
		</Link>
	);
}

/** Below a chart: when its level changed. */
export function Since({ measured, question }: Props) {
	const level = levelOf(measured);
	const moment = useMoment(question);
	if (!level) return null;
	return (
		<p className={classes.since} title={level.title}>
			level changed at <b>{moment(level.atUs)}</b> ({level.sure ? "sure" : "likely"}){" "}
			<Link to={linesOf(question, { fromUs: level.atUs })}>lines since</Link>
		</p>
	);
}
