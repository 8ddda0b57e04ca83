import { Switch, Tooltip } from "@mantine/core";
import { type Question, useQuestion } from "../investigate/question";
import { duration } from "../shared/time";
import { type Clock, useClocks, wrong } from "./clocks";

export function clockName(clock: Clock): string {
	const off = `${clock.machine} ${duration(Math.abs(clock.offset_us))} ${clock.offset_us < 0 ? "behind" : "ahead"}`;
	return clock.error_us === null
		? `${off} (its log says so)`
		: `${off}, give or take ${duration(clock.error_us)} (${clock.exchanges} exchanges)`;
}

/** Orders lines by when they happened instead of by what their clocks said. */
export function TrueTimeSwitch({ question }: { question: Question }) {
	const [, change] = useQuestion();
	const clocks = useClocks(question, question.trueTime);
	const off = wrong(clocks.answer?.clocks);
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
						question.trueTime && off.length
							? `true time: ${off.length === 1 ? clockName(off[0] as Clock).split(/,| \(/)[0] : `${off.length} clocks off`}`
							: "true time"
					}
					checked={question.trueTime}
					onChange={(event) => change({ trueTime: event.currentTarget.checked }, { replace: true })}
				/>
			</span>
		</Tooltip>
	);
}
