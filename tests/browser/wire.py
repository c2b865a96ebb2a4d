"""A network between a device and the server that can be cut, while others go on reaching the server."""

import socket
import threading
from contextlib import suppress


class Wire:
    """Passes on what arrives at a port of its own; cut, it closes everything and takes no new connection."""

    def __init__(self, server_port: int) -> None:
        self._server_port = server_port
        self._ends: set[socket.socket] = set()
        self._listener = self._listen(0)
        self.port = self._listener.getsockname()[1]

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def _listen(self, port: int) -> socket.socket:
        listener = socket.create_server(("127.0.0.1", port), reuse_port=False)
        threading.Thread(target=self._accept, args=(listener,), daemon=True).start()
        return listener

    def _accept(self, listener: socket.socket) -> None:
        while True:
            try:
                near, _ = listener.accept()
            except OSError:
                return
            try:
                far = socket.create_connection(("127.0.0.1", self._server_port))
            except OSError:
                near.close()
                continue
            self._ends |= {near, far}
            for one, other in ((near, far), (far, near)):
                threading.Thread(target=self._pass_on, args=(one, other), daemon=True).start()

    def _pass_on(self, one: socket.socket, other: socket.socket) -> None:
        with suppress(OSError):
            while part := one.recv(65536):
                other.sendall(part)
        for end in (one, other):
            with suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)
            end.close()
        self._ends -= {one, other}

    def cut(self) -> None:
        # An accept under way holds the port until it is woken.
        with suppress(OSError):
            self._listener.shutdown(socket.SHUT_RDWR)
        self._listener.close()
        for end in list(self._ends):
            with suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)

    def reconnect(self) -> None:
        self._listener = self._listen(self.port)
