/** The printed running order: a page for each line with what it gets, and when. Visible only in print. */
import { callWords, lineOfSend, momentSendDetail, momentSendTitle } from '@tawny-signal/core/cues/words';
import type { Show } from '@tawny-signal/core/show';
import { columnsOf } from './columns';

export function PaperByLine({ show }: { show: Show }) {
  return (
    <div className="hidden print:block">
      {columnsOf(show).map(({ lineId, name }) => {
        const rows = show.moments
          .map((moment) => ({ moment, sends: moment.sends.filter((one) => lineOfSend(one) === lineId) }))
          .filter(({ sends }) => sends.length > 0);
        return (
          <section key={lineId ?? 'show'} className="break-after-page">
            <h2 className="pb-2 text-xl font-bold">
              {name} · {show.settings.name}
            </h2>
            <table className="w-full text-left text-sm">
              <thead>
                <tr className="border-b border-rule">
                  <th className="w-16 py-1">cue</th>
                  <th className="w-56">moment</th>
                  <th>what it does</th>
                </tr>
              </thead>
              <tbody>
                {rows.map(({ moment, sends }) => (
                  <tr key={moment.id} className="break-inside-avoid border-b border-rule align-top">
                    <td className="py-1 font-mono">{moment.cue}</td>
                    <td className="py-1 pr-3">
                      <b>{moment.name}</b>
                      <br />
                      {callWords(moment, show.layouts)}
                      {moment.notes && <p className="italic">{moment.notes}</p>}
                    </td>
                    <td className="py-1">
                      {sends.map((one, at) => (
                        <p key={at}>
                          {momentSendTitle(one, show)} <span>{momentSendDetail(one)}</span>
                        </p>
                      ))}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
        );
      })}
    </div>
  );
}
