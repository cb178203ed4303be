import { COMMANDS, GROUPS } from '../../easel/commands/commands.ts';
import { KeyMark } from '../../easel/commands/KeysDialog.tsx';
import { Heading } from '../../parts/text.tsx';

/** Every key of the easel. */
export function KeyList() {
  return (
    <article>
      <Heading as="h1" size={18}>
        Keys
      </Heading>
      <p>On the easel F1 shows these, to be searched; Ctrl K finds everything by its name.</p>
      <div style={{ columnWidth: 260, columnGap: 28 }}>
        {GROUPS.map((group) => {
          const mine = COMMANDS.filter((command) => command.group === group && command.keys);
          return (
            mine.length > 0 && (
              <section key={group} style={{ breakInside: 'avoid', marginBottom: 16 }}>
                <Heading as="h2" size={13}>
                  {group}
                </Heading>
                {mine.map(({ name, keys = [] }) => (
                  <div key={name} style={{ display: 'flex', padding: '2px 0' }}>
                    <span style={{ flex: 1 }}>{name}</span>
                    {keys.map((key) => (
                      <KeyMark key={key} keys={key} />
                    ))}
                  </div>
                ))}
              </section>
            )
          );
        })}
      </div>
    </article>
  );
}
