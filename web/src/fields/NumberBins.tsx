import type { Numbers } from "../api/types";
import { quantity } from "../shared/quantity";
import { number } from "../shared/time";
import classes from "./FieldList.module.css";

const WIDTH = 168;
const HEIGHT = 42;

interface Props {
	numbers: Numbers;
	/** A bin was chosen: from, included, to, not included. */
	onRange?: (low: string, high: string) => void;
}

/** How the numbers of a field are distributed; a bin that is clicked narrows to its numbers. */
export function NumberBins({ numbers: { edges, counts, unit }, onRange }: Props) {
	const most = Math.max(...counts, 1);
	const width = WIDTH / counts.length;
	return (
		<svg className={classes.bins} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width={WIDTH} height={HEIGHT} role="img">
			<title>Distribution</title>
			{counts.map((n, bin) => {
				const height = n ? Math.max(((HEIGHT - 2) * n) / most, 1.5) : 0;
				const [low = 0, high = 0] = [edges[bin], edges[bin + 1]];
				return (
					// biome-ignore lint/a11y/noStaticElementInteractions: the same is written into the find text by keyboard
					<g
						key={low}
						className={onRange ? classes.bin : undefined}
						onClick={n && onRange ? () => onRange(low.toPrecision(6), high.toPrecision(6)) : undefined}
					>
						<title>{`${quantity(low, unit)} – ${quantity(high, unit)}: ${number(n)} lines`}</title>
						<rect x={bin * width} y={0} width={width} height={HEIGHT} fill="transparent" />
						<rect
							x={bin * width}
							y={HEIGHT - height}
							width={Math.max(width - 0.8, 0.8)}
							height={height}
							fill="var(--primary)"
						/>
					</g>
				);
			})}
		</svg>
	);
}
