import { marked } from 'marked';
import { useMemo } from 'react';
import { Link, NavLink, useParams } from 'react-router';
import { Column, Row } from '../../parts/layout.tsx';
import { Nothing } from '../../parts/Notice.tsx';
import { Heading, Quiet } from '../../parts/text.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { INK } from '../../theme.ts';
import { GUIDE, type GuidePage } from './guide.ts';
import { KeyList } from './KeyList.tsx';
import './help.css';

/** The guide: one page for each kind of job, and the keys. */
export function HelpScreen() {
  const { page: key } = useParams();
  const page = GUIDE.find((one) => one.key === key);
  return (
    <Column full>
      <TopBar trail="Help" />
      <Row align="stretch" grow shrink wrap>
        <nav aria-label="Guide" className="guide-pages">
          <NavLink to="/help" end>
            What this is
          </NavLink>
          {GUIDE.map((one) => (
            <NavLink key={one.key} to={`/help/${one.key}`}>
              {one.title}
            </NavLink>
          ))}
          <NavLink to="/help/keys">Keys</NavLink>
        </nav>
        <main className="guide" style={{ color: INK.text }}>
          {key === undefined ? <First /> : key === 'keys' ? <KeyList /> : page ? <Page page={page} /> : <NoPage />}
        </main>
      </Row>
    </Column>
  );
}

function Page({ page }: { page: GuidePage }) {
  // Our own pages, shipped with the application: nothing in them comes from anybody else.
  const html = useMemo(() => marked.parse(page.text, { async: false }), [page]);
  return <article dangerouslySetInnerHTML={{ __html: html }} />;
}

const First = () => (
  <article>
    <Heading as="h1" size={18}>
      What this is
    </Heading>
    <p>
      Wet Lacquer paints the skins of vehicles, aircraft and characters over their UV layout, and hands the game its
      textures in exactly the right format, name and place. Work goes as in a paint shop: a base, patterns, marks, wear;
      each is a layer that stays as it is until you change it. The proof shows what compression makes of it; the test
      bay shows what a game makes of the files.
    </p>
    <p>Each page here is one kind of job, step by step.</p>
    <ul>
      {GUIDE.map((page) => (
        <li key={page.key}>
          <Link to={`/help/${page.key}`}>{page.title}</Link> <Quiet>{aboutOf(page)}</Quiet>
        </li>
      ))}
    </ul>
    <p>
      <Link to="/help/keys">The keys</Link>, also with F1 on the easel.
    </p>
  </article>
);

/** Its first sentence. */
const aboutOf = ({ text }: GuidePage) => /^(?!#)(\S.*?[.!?])(?:\s|$)/m.exec(text)?.[1] ?? '';

const NoPage = () => (
  <Nothing title="The guide has no such page">
    <Link to="/help">All pages</Link>
  </Nothing>
);
