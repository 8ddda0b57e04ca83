import { ActionIcon, Button, Tooltip } from "@mantine/core";
import { IconBookmarks } from "@tabler/icons-react";
import { useEffect, useState } from "react";
import type { ProblemDetails, Status } from "../api/types";
import { MeasureField } from "../measure/MeasureField";
import { ScopeMenu } from "../searches/ScopeMenu";
import { Searches } from "../searches/Searches";
import type { Change, Question } from "../shared/question";
import { ComparedMenu } from "./ComparedMenu";
import { FindField } from "./FindField";
import classes from "./Sentence.module.css";
import { WindowPicker } from "./WindowPicker";

interface Props {
	question: Question;
	change: Change;
	mistake: ProblemDetails | null;
	/** A mistake in what is measured. */
	measureMistake: ProblemDetails | null;
	status: Status;
	onAsked: () => void;
}

/** The question as a sentence, and the conditions that clicks have added to it. */
export function Sentence({ question, change, mistake, measureMistake, status, onAsked }: Props) {
	const [draft, setDraft] = useState(question.find);
	useEffect(() => setDraft(question.find), [question.find]);

	const [searching, setSearching] = useState(false);
	const ask = () => {
		change({ find: draft.trim(), line: null });
		onAsked();
	};
	const without = (chip: string) => question.chips.filter((other) => other !== chip);

	return (
		<section className={classes.sentence} aria-label="Question">
			<div className={classes.row}>
				<span className={classes.word}>Find</span>
				<div className={classes.find} data-mistaken={mistake ? "" : undefined}>
					<FindField text={draft} mistake={mistake} onText={setDraft} onAsk={ask} onLeave={onAsked} />
				</div>
				<span className={classes.word}>on</span>
				<ScopeMenu question={question} change={change} status={status} />
				<span className={classes.word}>between</span>
				<WindowPicker
					fromUs={question.fromUs}
					toUs={question.toUs}
					onChoose={(fromUs, toUs) => change({ fromUs, toUs })}
				/>
				<span className={classes.word}>compared with</span>
				<ComparedMenu question={question} change={change} status={status} />
				{question.view === "measure" && (
					<MeasureField
						measure={question.measure}
						mistake={measureMistake}
						onMeasure={(measure) => change({ measure })}
					/>
				)}
				<Button className={classes.ask} onClick={ask} rightSection={<span aria-hidden>⏎</span>}>
					Ask
				</Button>
				<Tooltip label="Searches: saved, and to start with">
					<ActionIcon variant="subtle" size="lg" aria-label="Searches" onClick={() => setSearching(true)}>
						<IconBookmarks size={20} />
					</ActionIcon>
				</Tooltip>
				<Searches question={question} change={change} opened={searching} onClose={() => setSearching(false)} />
			</div>
			{mistake && (
				<p className={classes.mistake} role="alert">
					{mistake.column ? `Column ${mistake.column}: ` : ""}
					{mistake.detail}
					{mistake.suggestion && mistake.column && (
						<Button
							variant="subtle"
							size="compact-sm"
							onClick={() => {
								const at = (mistake.column ?? 1) - 1;
								const mended = draft.slice(0, at) + mistake.suggestion + draft.slice(at + (mistake.length ?? 0));
								setDraft(mended);
								change({ find: mended.trim() });
							}}
						>
							Use {mistake.suggestion}
						</Button>
					)}
				</p>
			)}
			{question.chips.length > 0 && (
				<div className={classes.row}>
					<span className={classes.narrowed}>Narrowed by clicks:</span>
					{question.chips.map((chip) => (
						<span key={chip} className={classes.chip}>
							<button
								type="button"
								className="plain"
								title="Edit: moves it into the find text"
								onClick={() =>
									change({
										chips: without(chip),
										find: [question.find && `(${question.find})`, chip].filter(Boolean).join(" and "),
									})
								}
							>
								{chip}
							</button>
							<button
								type="button"
								className={classes.drop}
								aria-label={`Take out: ${chip}`}
								onClick={() => change({ chips: without(chip) })}
							>
								✕
							</button>
						</span>
					))}
					{question.chips.length > 1 && (
						<button type="button" className={classes.link} onClick={() => change({ chips: [] })}>
							take all out
						</button>
					)}
				</div>
			)}
		</section>
	);
}
