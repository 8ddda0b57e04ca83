import { SEVERITIES, severityColor } from "./severity";
import { clock, number } from "./time";
import { useZone } from "./zone";

const HOUR_US = 3_600_000_000;
const HEIGHT = 20;
/** Severities that colour an hour; what is harmless is told by its height alone. */
const BAD = 4;

interface Props {
	/** Counts of the nine severities by step. */
	strip: number[][];
	startUs: number;
	stepUs?: number;
	/** Of a bar, in pixels. */
	wide?: number;
	label: string;
}

/** A day: a step a bar, tall by its lines, with what was bad at its foot. */
export function Strip({ strip, startUs, stepUs = HOUR_US, wide = 7, label }: Props) {
	const { zone } = useZone();
	const totals = strip.map((counts) => counts.reduce((sum, n) => sum + n, 0));
	const most = Math.max(1, ...totals);
	return (
		<svg width={strip.length * wide} height={HEIGHT} role="img" aria-label={label}>
			{strip.map((counts, hour) => {
				const total = totals[hour] ?? 0;
				const tall = total === 0 ? 0 : Math.max(2, Math.sqrt(total / most) * HEIGHT);
				const bad = counts.findIndex((n, code) => n > 0 && code <= BAD);
				const badTall = bad === -1 ? 0 : Math.max(3, tall * 0.45);
				return (
					<g key={startUs + hour * stepUs}>
						<title>
							{`${clock(startUs + hour * stepUs, zone).slice(0, 5)}: ${number(total)} lines${bad === -1 ? "" : `, worst ${SEVERITIES[bad]}`}`}
						</title>
						<rect x={hour * wide} y="0" width={wide - 1} height={HEIGHT} fill="transparent" />
						<rect
							x={hour * wide}
							y={HEIGHT - tall}
							width={wide - 1}
							height={tall}
							fill="var(--severity-informational)"
							opacity="0.55"
						/>
						{bad !== -1 && (
							<rect x={hour * wide} y={HEIGHT - badTall} width={wide - 1} height={badTall} fill={severityColor(bad)} />
						)}
					</g>
				);
			})}
		</svg>
	);
}
