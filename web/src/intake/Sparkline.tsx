import classes from "./Intake.module.css";

const WIDTH = 120;
const HEIGHT = 22;

/** An hour in bars of a minute, the newest at the right. */
export function Sparkline({ counts, label }: { counts: number[]; label: string }) {
	const most = Math.max(...counts, 1);
	const step = WIDTH / counts.length;
	return (
		<svg
			className={classes.spark}
			viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
			width={WIDTH}
			height={HEIGHT}
			role="img"
			aria-label={label}
		>
			<line x1={0} x2={WIDTH} y1={HEIGHT - 0.5} y2={HEIGHT - 0.5} />
			{counts.map((count, minute) => {
				const height = count ? Math.max((count / most) * (HEIGHT - 2), 1.5) : 0;
				return <rect key={minute} x={minute * step} y={HEIGHT - height} width={step - 0.4} height={height} />;
			})}
		</svg>
	);
}
