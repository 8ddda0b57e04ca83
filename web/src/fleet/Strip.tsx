import { SEVERITIES, severityColor } from "../shared/severity";
import { clock, number } from "../shared/time";
import { useZone } from "../shared/zone";

const HOUR_US = 3_600_000_000;
const WIDE = 7;
const HEIGHT = 20;
/** Severities that colour an hour; what is harmless is told by its height alone. */
const BAD = 4;

/** A day of a machine: an hour a bar, tall by its lines, with what was bad at its foot. */
export function Strip({ strip, startUs, label }: { strip: number[][]; startUs: number; label: string }) {
	const { zone } = useZone();
	const totals = strip.map((counts) => counts.reduce((sum, n) => sum + n, 0));
	const most = Math.max(1, ...totals);
	return (
		<svg width={strip.length * WIDE} height={HEIGHT} role="img" aria-label={label}>
			{strip.map((counts, hour) => {
				const total = totals[hour] ?? 0;
				const tall = total === 0 ? 0 : Math.max(2, Math.sqrt(total / most) * HEIGHT);
				const bad = counts.findIndex((n, code) => n > 0 && code <= BAD);
				const badTall = bad === -1 ? 0 : Math.max(3, tall * 0.45);
				return (
					<g key={startUs + hour * HOUR_US}>
						<title>
							{`${clock(startUs + hour * HOUR_US, zone).slice(0, 5)}: ${number(total)} lines${bad === -1 ? "" : `, worst ${SEVERITIES[bad]}`}`}
						</title>
						<rect x={hour * WIDE} y="0" width={WIDE - 1} height={HEIGHT} fill="transparent" />
						<rect
							x={hour * WIDE}
							y={HEIGHT - tall}
							width={WIDE - 1}
							height={tall}
							fill="var(--severity-informational)"
							opacity="0.55"
						/>
						{bad !== -1 && (
							<rect x={hour * WIDE} y={HEIGHT - badTall} width={WIDE - 1} height={badTall} fill={severityColor(bad)} />
						)}
					</g>
				);
			})}
		</svg>
	);
}
