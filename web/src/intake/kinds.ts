import type { Added, Feed, Kind } from "./api";
import type { Setting } from "./SettingFields";

const ADDRESS: Setting = {
	name: "address",
	label: "Listens on",
	description: "127.0.0.1 takes lines from this computer alone, 0.0.0.0 from all networks",
	placeholder: "127.0.0.1",
};
const PORT: Setting = { name: "port", label: "Port" };
const ZONE: Setting = { name: "zone", label: "Time zone of stamps that have none", placeholder: "UTC" };
const LIMIT: Setting = {
	name: "limit",
	label: "Most lines of one sender a second",
	description: "TCP senders are slowed; what is too much by UDP is not taken, and counted",
	placeholder: "as many as come",
};
const MACHINES: Setting = {
	name: "machines",
	label: "Most machines of one sender an hour",
	description: "lines of further ones are filed together",
	placeholder: "1000",
};
const MACHINE: Setting = { name: "machine", label: "Machine of lines that name none", placeholder: "none" };

const syslog = (port: string) => [ADDRESS, { ...PORT, placeholder: port }, ZONE, MACHINE, MACHINES, LIMIT];

/** The ways in, with what each is set up with. */
export const KINDS: Record<Kind, { title: string; settings: Setting[]; ports?: string }> = {
	tcp: { title: "syslog over TCP", settings: syslog("5514") },
	udp: { title: "syslog over UDP", settings: syslog("5514") },
	tls: { title: "syslog over TLS", settings: syslog("6514") },
	http: {
		title: "OpenTelemetry, NDJSON or text over HTTP",
		settings: [ADDRESS, { ...PORT, placeholder: "4318" }, ZONE, MACHINE, MACHINES],
	},
	snmp: {
		title: "SNMP traps and informs",
		settings: [
			{
				...ADDRESS,
				description: `${ADDRESS.description}. Module files in the folder mibs of the data folder give names`,
			},
			{ ...PORT, placeholder: "1162" },
			MACHINE,
			MACHINES,
			LIMIT,
		],
	},
	follow: {
		title: "files on this computer",
		settings: [
			{
				name: "paths",
				label: "Paths",
				description:
					"one a line; * stands for any text in a name. Within /var/log, or the folders of settings.yml; others on the command line",
				placeholder: "/var/log/*.log",
				long: true,
			},
			ZONE,
			{
				...MACHINE,
				description: "* takes what the first * of the path stands for: a folder for each machine, say",
				placeholder: "this computer",
			},
		],
	},
	command: {
		title: "output of a command",
		settings: [{ name: "command", label: "Command", long: true }, ZONE, MACHINE],
	},
	audit: { title: "what people did here", settings: [] },
};

export const added = (kind: Kind): kind is Added => kind !== "command" && kind !== "audit";

export const ADDED = (Object.keys(KINDS) as Kind[]).filter(added);

/** Where a source is, in a few words. */
export function place(feed: Feed): string {
	const { address, port, paths, command } = feed.settings;
	if (paths) return String(paths).split("\n").join(", ");
	if (command) return String(command);
	if (feed.kind === "audit") return "entries of the audit trail, as lines of the service northdrift";
	return `${address}:${port}`;
}

/** What to do on the sending machine, so that its lines come here; a title and what to paste. */
export function recipes(feed: Feed, host: string, token: string): [string, string][] {
	const port = feed.settings.port;
	const here = feed.settings.address === "127.0.0.1" ? "127.0.0.1" : host;
	const certificate = "collector.crt of this computer's data folder";
	switch (feed.kind) {
		case "udp":
			return [
				["Try it from a shell", `logger --server ${here} --port ${port} --udp --rfc5424 "first line from $(hostname)"`],
				["Forward all that a syslog daemon gets: in its configuration", `*.*  @${here}:${port}`],
			];
		case "snmp":
			return [
				[
					"Try it from a shell",
					`snmptrap -v 2c -c public ${here}:${port} "" 1.3.6.1.6.3.1.1.5.3 1.3.6.1.2.1.2.2.1.1.3 i 3`,
				],
				["On the device: as the target of its traps", `${here} port ${port}, version 2c`],
			];
		case "tcp":
			return [
				[
					"Try it from a shell",
					`logger --server ${here} --port ${port} --tcp --octet-count --rfc5424 "first line from $(hostname)"`,
				],
				["Forward all that a syslog daemon gets: in its configuration", `*.*  @@${here}:${port}`],
			];
		case "tls":
			return [
				[
					`Try it from a shell, with ${certificate}`,
					`echo "<14>1 - $(hostname) test - - - first line" | openssl s_client -quiet -connect ${here}:${port} -CAfile collector.crt`,
				],
			];
		case "http":
			return [
				[
					"Try it from a shell",
					`curl -H "Authorization: Bearer ${token}" -H "Content-Type: text/plain" --data "first line from $(hostname)" http://${here}:${port}/lines`,
				],
				[
					"OpenTelemetry exporters: in the program's environment",
					`OTEL_EXPORTER_OTLP_LOGS_ENDPOINT=http://${here}:${port}/v1/logs\nOTEL_EXPORTER_OTLP_LOGS_HEADERS="authorization=Bearer ${token}"`,
				],
			];
		case "follow":
			return [
				[
					"Lines come when one of the files grows, for example",
					`echo "first line" >> ${place(feed).split(", ")[0]?.replace("*", "test")}`,
				],
			];
		default:
			return [];
	}
}
