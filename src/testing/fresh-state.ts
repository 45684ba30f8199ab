import { beforeAll } from "vitest";
import { useBench } from "../ui/session/store";

// The page's store lives as long as the process of the tests: every file begins with an empty one.
beforeAll(() => useBench.setState(useBench.getInitialState(), true));
