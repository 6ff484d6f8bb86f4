#include "lost_buddy.h"

LostBuddy::LostBuddy(QWidget *parent) : LostBuddyBase(parent)
{
}
