import { Hub } from "./hub";

/** Shared by all pages of the browser; each has a port, and says which topics it wants to hear of. */
const hub = new Hub<MessagePort>((port, told) => port.postMessage(told));

addEventListener("connect", (event) => {
	const port = (event as MessageEvent).ports[0];
	if (!port) return;
	port.onmessage = ({ data }: MessageEvent<string[]>) => hub.want(port, data);
});
