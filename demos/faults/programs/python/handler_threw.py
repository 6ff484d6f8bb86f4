# The handler raises an exception that nobody catches.
#
# play    boardButton: click
# ask     boardButton
# verdict the program crashed
# says    an exception that nobody catches
import desk


def make():
    d = desk.Desk()

    def board():
        raise ValueError("no ticket")

    d.board.clicked.connect(board)
    return d


desk.run(make)
