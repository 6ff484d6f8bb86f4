# A button of a class of its own takes the press, and forgets to hand it on.
#
# play    boardButton: click
# ask     boardButton
# verdict swallowed by its own class
# says    kept the press to itself
import desk
from PyQt6.QtWidgets import QPushButton


class Counting(QPushButton):
    presses = 0

    def mousePressEvent(self, event):
        self.presses += 1


def make():
    d = desk.Desk(Counting)
    d.board.clicked.connect(lambda: d.status.setText("aboard"))
    return d


desk.run(make)
