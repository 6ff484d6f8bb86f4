# Nobody connected the button.
#
# play    boardButton: click
# ask     boardButton
# verdict not connected
# says    not connected to anything
import desk

desk.run(desk.Desk)
