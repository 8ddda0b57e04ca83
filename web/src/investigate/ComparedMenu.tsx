import { Menu } from "@mantine/core";
import type { Status } from "../api/types";
import { COMPARISONS, comparedName, interval, intervalOf } from "../shared/compared";
import { type Change, equals, type Question } from "../shared/question";
import { useZone } from "../shared/zone";
import classes from "./Sentence.module.css";
import { WindowPicker } from "./WindowPicker";

interface Props {
	question: Question;
	change: Change;
	status: Status;
}

/** What the question is compared with: an earlier window, any other, or another machine or service. */
export function ComparedMenu({ question, change, status }: Props) {
	const { zone } = useZone();
	const { compared } = question;
	const from = question.fromUs ?? status.first_us;
	const to = question.toUs ?? status.last_us;
	const window = intervalOf(compared);
	// What has changed is told by patterns, if nothing else was being looked at.
	const choose = (next: string) =>
		change({ compared: next, view: next && ["lines", "measure"].includes(question.view) ? "patterns" : question.view });
	const others: [string, string, string[]][] = [
		["another machine", "host.name", status.machines],
		["another service", "service.name", status.services],
	];
	return (
		<>
			<Menu position="bottom-start">
				<Menu.Target>
					<button type="button" className={classes.choice} data-compared>
						{window ? "another window" : comparedName(compared, zone)} ▾
					</button>
				</Menu.Target>
				<Menu.Dropdown>
					{Object.entries(COMPARISONS).map(([value, name]) => (
						<Menu.Item key={value} onClick={() => choose(value)}>
							{name}
						</Menu.Item>
					))}
					<Menu.Item onClick={() => choose(interval(from - (to - from), from))}>another window…</Menu.Item>
					<Menu.Divider />
					{others.map(([name, field, values]) => (
						<Menu.Sub key={field}>
							<Menu.Sub.Target>
								<Menu.Sub.Item>{name}</Menu.Sub.Item>
							</Menu.Sub.Target>
							<Menu.Sub.Dropdown className={classes.tall}>
								{values.map((value) => (
									<Menu.Item key={value} onClick={() => choose(equals(field, value))}>
										{value}
									</Menu.Item>
								))}
							</Menu.Sub.Dropdown>
						</Menu.Sub>
					))}
				</Menu.Dropdown>
			</Menu>
			{window && (
				<WindowPicker
					fromUs={window[0]}
					toUs={window[1]}
					onChoose={(fromUs, toUs) => choose(fromUs !== null && toUs !== null ? interval(fromUs, toUs) : "")}
				/>
			)}
		</>
	);
}
