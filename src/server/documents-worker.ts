import { parentPort } from "node:worker_threads";
import { expose } from "comlink";
import { installErrors } from "../compute/error-transfer";
import { nodeEndpoint } from "../compute/node-endpoint";
import { Documents } from "./documents";

installErrors();
expose(new Documents(), nodeEndpoint(parentPort!));
