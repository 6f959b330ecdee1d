import type { AddressInfo, Server, Socket } from 'node:net'

export interface StandIn {
  port: number
  close: () => Promise<void>
}

/** Has a server of a stand-in listen, on this computer alone. @param port 0 for any that is free */
export async function listening(server: Server, port: number): Promise<StandIn & { vanish: () => void }> {
  const sockets = new Set<Socket>()
  server.on('connection', (socket) => {
    sockets.add(socket)
    socket.on('close', () => sockets.delete(socket))
  })
  await new Promise<void>((done, failed) => {
    server.once('error', failed)
    server.listen(port, '127.0.0.1', done)
  })
  const vanish = () => {
    for (const socket of sockets) socket.destroy()
  }
  return {
    port: (server.address() as AddressInfo).port,
    vanish,
    close: () =>
      new Promise((done) => {
        vanish()
        server.close(() => done())
      }),
  }
}
