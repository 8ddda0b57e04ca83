import classes from "./KeyHints.module.css";

/** Which keys there are on a screen, at its foot. */
export function KeyHints({ keys }: { keys: string[][] }) {
	return (
		<footer className={classes.foot}>
			{keys.map(([key, says]) => (
				<span key={key}>
					<kbd>{key}</kbd> {says}
				</span>
			))}
		</footer>
	);
}
