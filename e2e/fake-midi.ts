/** A made-up controller in place of the browser's MIDI: `fakeMidi` plugs, unplugs and plays it, and keeps what it is sent. */
export const FAKE_MIDI = `(() => {
  const access = { inputs: new Map(), outputs: new Map(), onstatechange: null, sysexEnabled: false };
  const open = () => sessionStorage.held ? Promise.reject(new DOMException('busy', 'InvalidAccessError')) : Promise.resolve();
  const fake = { refuse: false, sent: [], access,
    plug(name) {
      access.inputs.set(name, { id: name, name, type: 'input', state: 'connected', open, onmidimessage: null });
      access.outputs.set(name, { id: name + 'o', name, type: 'output', state: 'connected', open, send: (bytes) => fake.sent.push([...bytes]) });
      access.onstatechange?.({});
    },
    unplug(name) { access.inputs.delete(name); access.outputs.delete(name); access.onstatechange?.({}); },
    play(name, ...bytes) { access.inputs.get(name).onmidimessage({ data: Uint8Array.from(bytes) }); } };
  window.fakeMidi = fake;
  navigator.requestMIDIAccess = () => sessionStorage.refuse ? Promise.reject(new DOMException('no', 'NotAllowedError')) : Promise.resolve(access);
})()`;
