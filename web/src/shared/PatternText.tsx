import type { Pattern } from "../api/types";
import classes from "../patterns/PatternList.module.css";
import { severityColor } from "./severity";

/** The worst severity that its lines have. */
export function worst(pattern: Pattern): number {
	const code = pattern.severities.findIndex((n) => n > 0);
	return code === -1 ? 8 : code;
}

/** The fixed words of a pattern, with its open places tinted. */
export function Words({ text }: { text: string }) {
	const parts = text.split("…");
	return (
		<>
			{parts.map((part, index) => (
				<span key={index}>
					{index > 0 && <span className={classes.open}>…</span>}
					{part}
				</span>
			))}
		</>
	);
}

/** Its lines over time. */
export function Steps({ pattern, width = 96, height = 18 }: { pattern: Pattern; width?: number; height?: number }) {
	const most = Math.max(...pattern.steps, 1);
	const each = width / pattern.steps.length;
	return (
		<svg
			className={classes.steps}
			viewBox={`0 0 ${width} ${height}`}
			width={width}
			height={height}
			role="img"
			aria-label="lines over time"
		>
			{pattern.steps.map((n, step) => {
				const tall = n ? Math.max(((height - 2) * n) / most, 2) : 0;
				return (
					<rect
						key={step}
						x={step * each}
						y={height - tall}
						width={Math.max(each - 0.4, 1.4)}
						height={tall}
						fill={severityColor(worst(pattern))}
					/>
				);
			})}
		</svg>
	);
}
