import { ActionIcon, SegmentedControl, Select } from "@mantine/core";
import { IconChartBar, IconEqualNot } from "@tabler/icons-react";
import { lazy, Suspense, useMemo, useState } from "react";
import type { Measurement, Word, Words } from "../api/types";
import { queryOf } from "../cards/api";
import { PutOnBoard } from "../cards/PutOnBoard";
import { comparedName } from "../shared/compared";
import { asked, askedAgainst, quote, type ViewProps } from "../shared/question";
import { number, utcOffset } from "../shared/time";
import { useZone } from "../shared/zone";
import { Change, Tally } from "../surveys/Changes";
import survey from "../surveys/Survey.module.css";
import { SurveyHead } from "../surveys/SurveyHead";
import { useSurvey } from "../surveys/useSurvey";
import classes from "./WordList.module.css";

// Charts are fetched when they are first wanted.
const MeasureChart = lazy(() => import("../measure/MeasureChart").then((found) => ({ default: found.MeasureChart })));
const PER = ["auto", "second", "minute", "hour"];

/** A word that one finds by typing it. */
function condition(word: string): string {
	return quote(word);
}

function Over({ word, question, change, onClose }: ViewProps & { word: string; onClose: () => void }) {
	const { zone } = useZone();
	const [per, setPer] = useState("auto");
	const params = asked({ ...question, chips: [...question.chips, condition(word)] });
	params.set("measure", `count per ${per}`);
	params.set("utc_offset", String(utcOffset(question.fromUs ?? Date.now() * 1000, zone)));
	const counted = useSurvey<Measurement>("/api/measurements", params);
	return (
		<section className={classes.over} aria-label={`${word} over time`}>
			<SurveyHead
				survey={counted}
				tools={
					<>
						<Select
							size="xs"
							w={110}
							aria-label="per"
							data={PER}
							value={per}
							onChange={(next) => setPer(next ?? "auto")}
						/>
						<button type="button" className={classes.close} onClick={onClose}>
							close
						</button>
					</>
				}
			>
				<b>{word}</b> in {number(counted.answer?.total ?? 0)} lines
			</SurveyHead>
			{counted.answer && (
				<Suspense fallback={null}>
					<MeasureChart
						measurement={counted.answer}
						form="bars"
						height={150}
						onWindow={(fromUs, toUs) => change({ fromUs, toUs })}
					/>
				</Suspense>
			)}
		</section>
	);
}

interface WordsProps {
	words: Word[];
	onOnly: (word: string) => void;
	onNot: (word: string) => void;
	onOver: (word: string) => void;
}

function List({ words, onOnly, onNot, onOver }: WordsProps) {
	const most = Math.max(...words.map((word) => word.count), 1);
	return (
		<ul className={classes.list} aria-label="Words">
			{words.map((word) => (
				<li key={word.word} className={classes.row} data-word={word.word}>
					<span className={classes.count}>{number(word.count)}</span>
					<span className={classes.bar} aria-hidden>
						<i style={{ width: `${(100 * word.count) / most}%` }} />
					</span>
					<button
						type="button"
						className={classes.text}
						onClick={() => onOnly(word.word)}
						title={`only lines with ${word.word}`}
					>
						{word.word}
					</button>
					{word.change && <Change row={word} />}
					<ActionIcon
						size="sm"
						variant="subtle"
						aria-label={`${word.word} over time`}
						onClick={() => onOver(word.word)}
					>
						<IconChartBar size={14} />
					</ActionIcon>
					<ActionIcon size="sm" variant="subtle" aria-label={`without ${word.word}`} onClick={() => onNot(word.word)}>
						<IconEqualNot size={14} />
					</ActionIcon>
				</li>
			))}
		</ul>
	);
}

function Cloud({ words, onOver }: WordsProps) {
	const most = Math.log(Math.max(...words.map((word) => word.count), 2));
	const least = Math.log(Math.max(Math.min(...words.map((word) => word.count)), 1));
	const sorted = [...words].sort((one, other) => one.word.localeCompare(other.word));
	return (
		<ul className={classes.cloud} aria-label="Words as a cloud">
			{sorted.map((word) => {
				const share = most > least ? (Math.log(Math.max(word.count, 1)) - least) / (most - least) : 0.5;
				return (
					<li key={word.word}>
						<button
							type="button"
							style={{ fontSize: `${Math.round(13 + 21 * share)}px` }}
							data-change={word.change ?? undefined}
							title={`${number(word.count)} lines`}
							onClick={() => onOver(word.word)}
						>
							{word.word}
						</button>
					</li>
				);
			})}
		</ul>
	);
}

/** The words of the lines without those that every log has: as a list or as a cloud, and each over time. */
export function WordList({ question, change, onChip }: ViewProps) {
	const { zone } = useZone();
	const [form, setForm] = useState("list");
	const [over, setOver] = useState<string | null>(null);
	const words = useSurvey<Words>("/api/words", askedAgainst(question));
	const rows = words.answer?.words ?? [];
	const cloud = useMemo(() => rows.slice(0, 120).filter((word) => word.count > 0), [rows]);
	const props = {
		onOnly: (word: string) => onChip(condition(word)),
		onNot: (word: string) => onChip(`not ${condition(word)}`),
		onOver: setOver,
	};
	return (
		<div className={survey.view} aria-busy={words.old}>
			<SurveyHead
				survey={words}
				tools={
					<>
						<PutOnBoard
							query={queryOf({ ...question, measure: "" })}
							drawing="words"
							title={question.find ? `Words of ${question.find}` : "Words"}
						/>
						<SegmentedControl
							size="xs"
							aria-label="Form"
							data={[
								{ value: "list", label: "List" },
								{ value: "cloud", label: "Cloud" },
							]}
							value={form}
							onChange={setForm}
						/>
					</>
				}
			>
				<b data-words={words.answer?.found}>{number(words.answer?.found ?? 0)}</b>
				{` words in ${number(words.answer?.total ?? 0)} lines`}
				{question.compared && words.answer && (
					<Tally changes={words.answer.changes} name={comparedName(question.compared, zone)} />
				)}
				{(words.answer?.found ?? 0) > rows.length && `; the first ${number(rows.length)} are shown`}
			</SurveyHead>
			{over && <Over word={over} question={question} change={change} onChip={onChip} onClose={() => setOver(null)} />}
			{words.answer && rows.length === 0 && <p className={classes.none}>The lines have no words but common ones.</p>}
			{form === "list" ? <List words={rows} {...props} /> : <Cloud words={cloud} {...props} />}
		</div>
	);
}
