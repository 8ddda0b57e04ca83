import { TextInput } from "@mantine/core";
import { useEffect, useState } from "react";
import type { ProblemDetails } from "../api/types";
import sentence from "../investigate/Sentence.module.css";

interface Props {
	measure: string;
	mistake: ProblemDetails | null;
	onMeasure: (measure: string) => void;
}

/** The clause of the sentence that says what is measured. */
export function MeasureField({ measure, mistake, onMeasure }: Props) {
	const [draft, setDraft] = useState(measure);
	useEffect(() => setDraft(measure), [measure]);
	const mended =
		mistake?.suggestion && mistake.column
			? draft.slice(0, mistake.column - 1) +
				mistake.suggestion +
				draft.slice(mistake.column - 1 + (mistake.length ?? 0))
			: null;
	return (
		<form
			className={sentence.measure}
			onSubmit={(event) => {
				event.preventDefault();
				onMeasure(draft.trim());
			}}
		>
			<span className={sentence.word}>measured as</span>
			<TextInput
				aria-label="measured as"
				className={sentence.measureText}
				placeholder="count by severity per auto"
				value={draft}
				onChange={(event) => setDraft(event.currentTarget.value)}
				onBlur={() => draft.trim() !== measure && onMeasure(draft.trim())}
				error={
					mistake && (
						<>
							Column {mistake.column}: {mistake.detail}{" "}
							{mended && (
								<button type="button" className={sentence.link} onClick={() => onMeasure(mended)}>
									Use {mistake.suggestion}
								</button>
							)}
						</>
					)
				}
			/>
		</form>
	);
}
