import { Modal } from "@mantine/core";
import classes from "./KeysHelp.module.css";

const KEYS: [string[], string][] = [
	[["/"], "go to the find text"],
	[["j", "k"], "next and previous line"],
	[["n", "N"], "next and previous match; without words to match, the next error or worse"],
	[["g", "G"], "first and last line"],
	[["Enter"], "open the line"],
	[["t"], "its thread: nearby, the same request, seen before, its file"],
	[["c"], "what changed before the chosen line"],
	[["p"], "pin the chosen line to the case"],
	[["Esc"], "close it; leave the find text"],
	[["[", "]"], "earlier and later window of the same length"],
	[["+", "-"], "half and double the window around the chosen line"],
	[["m"], "next view: lines, patterns, fields, words, measure"],
	[["F"], "follow: keep the end in view"],
	[["?"], "this page"],
];

const FIND: [string, string][] = [
	["disk full", "both words"],
	['"no space left"', "words in this order"],
	["time*   *1f7a*", "starts so; contains, also inside a word"],
	["disk or quota, not test", "either; not"],
	["host.name = gate-*", "a field equals; != for not; * is open"],
	["severity >= warning", "that bad or worse"],
	["duration_ms > 2500", "numbers, with units (2.5s, 10MB)"],
	["source.address = 10.40.0.0/16", "an address in a network"],
	["user.name in (ida, root)", "any of these"],
	["message ~ /out after \\d+/", "regular expression (RE2); !~ for not"],
	["has request.id", "lines with this field"],
	["pattern = P12", "lines of one pattern"],
];

export function KeysHelp({ open, onClose }: { open: boolean; onClose: () => void }) {
	return (
		<Modal lockScroll={false} opened={open} onClose={onClose} title="Keys, and how to find" size="xl">
			<div className={classes.help}>
				<dl>
					{KEYS.map(([keys, what]) => (
						<div key={what}>
							<dt>
								{keys.map((key) => (
									<kbd key={key}>{key}</kbd>
								))}
							</dt>
							<dd>{what}</dd>
						</div>
					))}
				</dl>
				<dl>
					{FIND.map(([text, what]) => (
						<div key={text}>
							<dt>
								<code>{text}</code>
							</dt>
							<dd>{what}</dd>
						</div>
					))}
				</dl>
			</div>
		</Modal>
	);
}
