import { useEffect, useState } from 'react';

/** The newest step of a livery, as the server rings it. @param known the one that was last heard of otherwise */
export function useNewestStep(livery: string, known: number): number {
  const [heard, setHeard] = useState(0);
  useEffect(() => {
    const news = new EventSource(`/api/liveries/${livery}/news`);
    news.onmessage = ({ data }) => setHeard((JSON.parse(data as string) as { revision: number }).revision);
    return () => news.close();
  }, [livery]);
  return Math.max(heard, known);
}
