import { type Part, Parts } from "../shared/Parts";

const PARTS: Part[] = [
	{ path: "/logbook", name: "Story", route: "GET /api/logbook" },
	{ path: "/logbook/restarts", name: "Restarts", route: "GET /api/restarts" },
	{ path: "/causes", name: "What changed before", route: "GET /api/causes" },
	{ path: "/logbook/rules", name: "Rules", route: "GET /api/logbook-rules" },
];

/** The parts of the logbook. */
export const LogbookTabs = () => <Parts of="Logbook" parts={PARTS} />;
