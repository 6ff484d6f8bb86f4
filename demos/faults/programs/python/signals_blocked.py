# The signals of the button are blocked.
#
# play    boardButton: click
# ask     boardButton
# verdict signals blocked
# says    blocked
import desk


def make():
    d = desk.Desk()
    d.board.clicked.connect(lambda: d.status.setText("aboard"))
    d.board.blockSignals(True)
    return d


desk.run(make)
