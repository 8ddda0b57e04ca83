import { useInterval } from "@mantine/hooks";
import { useEffect, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { type Board, useBoard } from "../cards/api";
import { clock, windowName } from "../shared/time";
import { useZone } from "../shared/zone";
import classes from "./Boards.module.css";
import { BoardView } from "./BoardView";
import { useView } from "./view";
import { wallOf } from "./wall";

const SECOND_MS = 1000;

function Clock() {
	const { zone } = useZone();
	const [now, setNow] = useState(Date.now() * 1000);
	useInterval(() => setNow(Date.now() * 1000), SECOND_MS, { autoInvoke: true });
	return <time>{clock(now, zone)}</time>;
}

function OnWall({ board, place }: { board: Board; place: string }) {
	const { zone } = useZone();
	const view = useView(board.definition);
	return (
		<>
			<header className={classes.sentence}>
				<h1>
					<Link to={`/boards/${board.id}`}>{board.definition.title}</Link>
				</h1>
				<span className={classes.word}>{view.span && windowName(view.span.fromUs, view.span.toUs, zone)}</span>
				<span className={classes.buttons}>
					<span className={classes.second}>{place}</span>
					<Clock />
				</span>
			</header>
			<BoardView definition={board.definition} view={view} />
		</>
	);
}

/** Boards in turn on a screen that nobody touches. */
export function Wall() {
	const [params] = useSearchParams();
	const { boards, everyMs } = wallOf(params);
	const [turn, setTurn] = useState(0);
	useEffect(() => {
		if (boards.length < 2) return;
		const timer = setInterval(() => setTurn((now) => now + 1), everyMs);
		return () => clearInterval(timer);
	}, [boards.length, everyMs]);
	const at = boards.length ? turn % boards.length : 0;
	const board = useBoard(boards[at] ?? 0);
	return (
		<main className={classes.wall}>
			{boards.length === 0 && <p className={classes.hint}>The address names no board: choose “Wall view” on one.</p>}
			{/* One that is gone does not end the round. */}
			{boards.length > 0 && board.error && (
				<p className={classes.problem} role="alert">
					{board.error.message}
				</p>
			)}
			{board.data && (
				<OnWall
					key={board.data.id}
					board={board.data}
					place={boards.length > 1 ? `${at + 1} of ${boards.length}` : ""}
				/>
			)}
		</main>
	);
}
