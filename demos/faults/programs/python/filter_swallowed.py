# The window filters the button's events, and keeps the press.
#
# play    boardButton: click
# ask     boardButton
# verdict swallowed by a filter
# says    ferryDesk swallowed it
import desk
from PyQt6.QtCore import QEvent


class Filtering(desk.Desk):
    def eventFilter(self, watched, event):
        return event.type() == QEvent.Type.MouseButtonPress


def make():
    d = Filtering()
    d.board.installEventFilter(d)
    d.board.clicked.connect(lambda: d.status.setText("aboard"))
    return d


desk.run(make)
