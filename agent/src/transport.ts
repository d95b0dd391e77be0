/** The wire to a machine: TCP or a serial port, as text that comes and goes. */
import { connect } from 'node:net';
import type { LinkProfile } from '@kerbe/core/machine';
import { SerialPort } from 'serialport';

export interface Wire {
  write(text: string): void;
  destroy(): void;
}

interface Ears {
  open(): void;
  data(text: string): void;
  /** Once, whatever the reason. */
  closed(why: string): void;
}

/** Opens the wire; says `closed` when that fails. Bytes are read as Latin-1 for a serial port: noise stays what it is. */
export function openWire(transport: LinkProfile['transport'], ears: Ears): Wire {
  let why = transport.kind === 'tcp' ? 'the machine closed the link' : `${transport.path} was closed`;
  if (transport.kind === 'tcp') {
    const socket = connect({ host: transport.host, port: transport.port, noDelay: true });
    socket.setEncoding('utf8');
    socket.on('connect', ears.open);
    socket.on('data', (chunk: string) => ears.data(chunk));
    socket.on('error', (error) => (why = error.message));
    socket.on('close', () => ears.closed(why));
    return { write: (text) => void socket.write(text), destroy: () => socket.destroy() };
  }
  const port = new SerialPort({ path: transport.path, baudRate: transport.baud, autoOpen: false });
  let ended = false;
  const end = () => {
    if (ended) return;
    ended = true;
    ears.closed(why);
  };
  port.on('open', ears.open);
  port.on('data', (chunk: Buffer) => ears.data(chunk.toString('latin1')));
  port.on('error', (error) => {
    why = error.message;
    if (!port.isOpen) end();
  });
  port.on('close', end);
  port.open((error) => {
    if (!error) return;
    why = error.message;
    end();
  });
  return {
    write: (text) => void port.write(Buffer.from(text, 'latin1')),
    destroy: () => (port.isOpen ? port.close(() => end()) : end()),
  };
}
