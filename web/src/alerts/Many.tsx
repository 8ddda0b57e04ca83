import { Button } from "@mantine/core";
import { useState } from "react";
import { Allowed } from "../shared/session";
import { number } from "../shared/time";
import classes from "./Alerts.module.css";
import { type Action, useAlertActions } from "./api";
import { GiveForm } from "./GiveForm";
import { CloseForm } from "./TextForm";

interface Props {
	ids: number[];
	people: string[];
	onDone: () => void;
}

/** What is done with many at once. */
export function Many({ ids, people, onDone }: Props) {
	const { act } = useAlertActions();
	const [asking, setAsking] = useState<"close" | "give" | null>(null);
	const [left, setLeft] = useState(0);
	const does = (action: Action, text = "") => {
		setAsking(null);
		act.mutate(
			{ action, ids, text },
			{
				onSuccess: (answer) => {
					setLeft(answer.left);
					if (answer.left === 0) onDone();
				},
			},
		);
	};
	return (
		<div className={classes.many} data-many>
			<b>
				{number(ids.length)} {ids.length === 1 ? "alert" : "alerts"} chosen
			</b>
			<Allowed to="POST /api/alerts/actions">
				<div className={classes.actions}>
					<Button size="compact-sm" onClick={() => does("take")}>
						Take
					</Button>
					{people.length > 0 && (
						<Button size="compact-sm" variant="default" onClick={() => setAsking("give")}>
							Give…
						</Button>
					)}
					<Button size="compact-sm" variant="default" onClick={() => setAsking("close")}>
						Close…
					</Button>
				</div>
			</Allowed>
			<Button size="compact-sm" variant="subtle" onClick={onDone}>
				Choose none
			</Button>
			{left > 0 && <span role="status">{number(left)} could not be done: they are closed.</span>}
			{act.error && (
				<span className={classes.problem} role="alert">
					{act.error.message}
				</span>
			)}
			{asking === "close" && (
				<CloseForm
					title={`Close ${number(ids.length)} alerts`}
					remedy=""
					onDone={(text) => does("close", text)}
					onCancel={() => setAsking(null)}
				/>
			)}
			{asking === "give" && (
				<GiveForm people={people} onGive={(name) => does("give", name)} onClose={() => setAsking(null)} />
			)}
		</div>
	);
}
