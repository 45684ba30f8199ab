import { Menu } from "@mantine/core";
import { useBench, useSession } from "../session/session-context";
import type { Pane } from "../session/store";
import { nameOf, takeOf } from "../tools/stack-clicks";

/** The shells that lie on one another where was clicked with Alt; one of them is taken. */
export function StackList({ pane }: { pane: Pane }) {
  const { bench } = useSession();
  const stack = useBench((s) => (s.stack?.pane === pane ? s.stack : null));
  if (!stack) return null;
  return (
    <Menu
      opened
      onChange={() => bench.setState({ stack: null })}
      position="bottom-start"
      transitionProps={{ duration: 0 }}
    >
      <Menu.Target>
        <span style={{ position: "absolute", left: stack.x, top: stack.y }} />
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Label>{stack.shells.length} shells on one another, the uppermost first</Menu.Label>
        {stack.shells.map((shell) => (
          <Menu.Item key={`${shell.shape}/${shell.face}`} onClick={() => takeOf(bench, shell)}>
            {nameOf(bench, shell)}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}
