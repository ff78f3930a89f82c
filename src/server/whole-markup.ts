import ReactDOM from 'react-dom/server.node';

/**
 * React's server renderer as the pages need it: an island is sent whole and in its place, however large it is. Sent in pieces it would
 * bring scripts of its own that put them together, and no script but two that are known may stand in a page.
 */
export default {
  ...ReactDOM,
  renderToPipeableStream: (what: React.ReactNode, options?: Parameters<typeof ReactDOM.renderToPipeableStream>[1]) =>
    ReactDOM.renderToPipeableStream(what, { ...options, progressiveChunkSize: Infinity }),
  renderToReadableStream: async (
    what: React.ReactNode,
    options?: Parameters<typeof ReactDOM.renderToReadableStream>[1],
  ): Promise<Awaited<ReturnType<typeof ReactDOM.renderToReadableStream>>> => {
    const stream = await ReactDOM.renderToReadableStream(what, { ...options, progressiveChunkSize: Infinity });
    await stream.allReady;
    return stream;
  },
};
