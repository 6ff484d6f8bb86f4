# A button that does what it should.
#
# play    boardButton: click
# ask     boardButton
# verdict ok
import desk


def make():
    d = desk.Desk()
    d.board.clicked.connect(lambda: d.status.setText("aboard"))
    return d


desk.run(make)
