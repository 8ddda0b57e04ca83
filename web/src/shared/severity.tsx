import classes from "./severity.module.css";

/** RFC 5424, section 6.2.1, and what tells none. */
export const SEVERITIES = [
	"emergency",
	"alert",
	"critical",
	"error",
	"warning",
	"notice",
	"informational",
	"debug",
	"unset",
] as const;

/** Rising ticks, more for worse: severity is never told by colour alone. */
const TICKS = [4, 4, 4, 3, 2, 1, 1, 0, 0];

export function severityName(code: number): string {
	return SEVERITIES[code] ?? "unset";
}

export function severityColor(code: number): string {
	return `var(--severity-${code <= 2 ? "critical" : severityName(code)})`;
}

export function SeverityTicks({ code }: { code: number }) {
	const ticks = TICKS[code] ?? 0;
	return (
		<svg
			className={classes.ticks}
			viewBox="0 0 18 12"
			width="18"
			height="12"
			role="img"
			aria-label={severityName(code)}
		>
			{[0, 1, 2, 3].map((index) => {
				const height = 3 + index * 2.6;
				return (
					<rect
						key={index}
						x={index * 4.8}
						y={12 - height}
						width="3.4"
						height={height}
						rx="0.8"
						fill={index < ticks ? severityColor(code) : "var(--tick-off)"}
					/>
				);
			})}
		</svg>
	);
}

export function SeverityWord({ code }: { code: number }) {
	return <span className={classes[`word${code <= 2 ? "Critical" : code}`] ?? classes.word}>{severityName(code)}</span>;
}
