import { Button, Modal, MultiSelect, NumberInput } from "@mantine/core";
import { useState } from "react";
import { Link } from "react-router";
import { type Board, useBoards } from "../cards/api";
import classes from "./Boards.module.css";
import { EVERY_S, wallLink } from "./wall";

const LEAST_S = 5;

/** Which boards a wall shows in turn, and for how long each. */
export function WallDialog({ board, onClose }: { board: Board; onClose: () => void }) {
	const boards = useBoards().data?.boards ?? [];
	const [chosen, setChosen] = useState([String(board.id)]);
	const [every, setEvery] = useState(EVERY_S);
	return (
		<Modal opened onClose={onClose} title="Wall view">
			<div className={classes.form}>
				<p className={classes.second}>A page without menus for a screen on the wall. Several boards take turns.</p>
				<MultiSelect
					label="Boards"
					data={boards.map(({ id, title }) => ({ value: String(id), label: title }))}
					value={chosen}
					onChange={setChosen}
					searchable
				/>
				<NumberInput
					label="Seconds each"
					min={LEAST_S}
					value={every}
					onChange={(next) => typeof next === "number" && setEvery(Math.max(next, LEAST_S))}
				/>
				<div className={classes.buttons}>
					<Button variant="default" onClick={onClose}>
						Cancel
					</Button>
					<Button component={Link} to={wallLink(chosen, every)} disabled={chosen.length === 0}>
						Open
					</Button>
				</div>
			</div>
		</Modal>
	);
}
