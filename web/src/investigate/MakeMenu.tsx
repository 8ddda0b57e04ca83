import { Menu } from "@mantine/core";
import { Link } from "react-router";
import { noiseFrom } from "../rules/api";
import classes from "./Investigate.module.css";
import { type Question, wholeFind } from "./question";

/** What can be made of the question beside looking at it. */
export function MakeMenu({ question }: { question: Question }) {
	const find = wholeFind(question);
	return (
		<Menu position="bottom-end">
			<Menu.Target>
				<button type="button" className={classes.tool}>
					make ▾
				</button>
			</Menu.Target>
			<Menu.Dropdown>
				<Menu.Item component={Link} to={noiseFrom(find)}>
					a noise rule from this question
				</Menu.Item>
				<Menu.Item component={Link} to={`/intake/relays?${new URLSearchParams({ find })}`}>
					send such lines on from now on
				</Menu.Item>
			</Menu.Dropdown>
		</Menu>
	);
}
