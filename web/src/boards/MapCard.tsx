import { Link } from "react-router";
import { BOX, layout } from "../fleet/layout";
import { short, state } from "../fleet/state";
import { equals } from "../shared/question";
import classes from "./Boards.module.css";
import type { KindProps } from "./kinds";
import { linesOf } from "./links";

/** Which machines cannot do without which; each leads to its lines in the time of the card. */
export function MapCard({ answer, question, width, height }: KindProps) {
	const { machines = [], edges = [] } = answer.map ?? {};
	const { placed, height: tall } = layout(machines, edges, Math.max(width - 8, BOX.width), height);
	const at = new Map(placed.map((one) => [one.machine.machine, one]));
	if (machines.length === 0) return <p className={classes.hint}>No machine is known yet.</p>;
	return (
		<svg width={width - 8} height={tall} role="img" aria-label={`Map of ${machines.length} machines`}>
			{edges.map(({ machine, on, kind }) => {
				const [one, other] = [at.get(machine), at.get(on)];
				if (!one || !other) return null;
				return (
					<line
						key={`${machine} ${on} ${kind}`}
						x1={one.x + BOX.width / 2}
						y1={one.y + BOX.height}
						x2={other.x + BOX.width / 2}
						y2={other.y}
						className={classes.edge}
						data-kind={kind}
					/>
				);
			})}
			{placed.map(({ machine, x, y }) => {
				const { sign, words, colour } = state(machine);
				return (
					<Link
						key={machine.machine}
						to={linesOf(question, { chips: [...question.chips, equals("host.name", machine.machine)] })}
						className={classes.box}
						data-state={words}
					>
						<title>{`${machine.machine}: ${words}`}</title>
						<rect x={x} y={y} width={BOX.width} height={BOX.height} rx="3" />
						<rect x={x} y={y} width="5" height={BOX.height} style={{ fill: colour }} />
						<text x={x + 12} y={y + 24}>
							{short(machine.machine, 13)}
						</text>
						<text x={x + BOX.width - 8} y={y + 25} textAnchor="end" style={{ fill: colour }}>
							{sign}
						</text>
					</Link>
				);
			})}
		</svg>
	);
}
