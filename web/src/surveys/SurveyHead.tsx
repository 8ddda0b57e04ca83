import { Button, Progress } from "@mantine/core";
import type { ReactNode } from "react";
import classes from "./Survey.module.css";
import type { Survey } from "./useSurvey";

interface Props {
	survey: Survey<unknown>;
	/** What has been found. */
	children: ReactNode;
	/** Choices that belong to the view. */
	tools?: ReactNode;
}

/** What a survey has found, how far it is, and a way to stop it. */
export function SurveyHead({ survey, children, tools }: Props) {
	const share = Math.round(survey.done * 100);
	return (
		<div className={classes.head}>
			<p className={classes.said} role="status">
				{survey.answer ? children : !survey.error && "Looking at the lines"}
				{survey.stopped && !survey.running && (
					<>
						{` · stopped: from ${share} % of the lines, in pieces taken at random `}
						<Button variant="subtle" size="compact-xs" onClick={survey.again}>
							Go on
						</Button>
					</>
				)}
				{survey.error && <span className={classes.problem}>{survey.error.message}</span>}
			</p>
			{survey.running && (
				<span className={classes.progress}>
					<Progress value={share} size="sm" w={90} aria-label="share of the lines looked at" />
					{share} %
					<Button variant="subtle" size="compact-xs" onClick={survey.stop}>
						Stop
					</Button>
				</span>
			)}
			{tools && <span className={classes.tools}>{tools}</span>}
		</div>
	);
}
