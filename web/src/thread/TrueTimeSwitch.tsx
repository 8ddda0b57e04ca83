import { Switch, Tooltip } from "@mantine/core";
import { type Question, useQuestion } from "../shared/question";
import { duration } from "../shared/time";
import { type Clock, useClocks, wrong } from "../surveys/clocks";

function offName(clock: Clock): string {
	return `${clock.machine} ${duration(Math.abs(clock.offset_us))} ${clock.offset_us < 0 ? "behind" : "ahead"}`;
}

function clockName(clock: Clock): string {
	const off = offName(clock);
	return clock.error_us === null
		? `${off} (its log says so)`
		: `${off}, give or take ${duration(clock.error_us)} (${clock.exchanges} exchanges or links)`;
}

/** Orders lines by when they happened instead of by what their clocks said. */
export function TrueTimeSwitch({ question, short = false }: { question: Question; short?: boolean }) {
	const [, change] = useQuestion();
	const clocks = useClocks(question, question.trueTime);
	const off = wrong(clocks.answer?.clocks);
	const first = off[0];
	const says = !question.trueTime
		? "Orders lines by when they happened, where clocks are off"
		: clocks.running
			? "Comparing the clocks"
			: off.length
				? off.map(clockName).join("; ")
				: "No clock of this window is off by a second or more";
	return (
		<Tooltip label={says} multiline maw={420}>
			<span>
				<Switch
					size="xs"
					label={
						!question.trueTime || !first
							? "true time"
							: short
								? `true time (${off.length})`
								: `true time: ${off.length === 1 ? offName(first) : `${off.length} clocks off`}`
					}
					checked={question.trueTime}
					onChange={(event) => change({ trueTime: event.currentTarget.checked }, { replace: true })}
				/>
			</span>
		</Tooltip>
	);
}
