// A short menu at the pointer: what can be done with one thing.
//
// Threads: the loop's thread only.
#pragma once

#include <QMenu>

#include <functional>

namespace pipit::app
{

struct MenuLine {
    QString words, keys;
    std::function<void()> run; // null: it cannot be done now
};

inline void showMenu(QWidget *parent, const QPoint &global, const QList<MenuLine> &lines)
{
    auto *menu = new QMenu(parent);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    for (const MenuLine &l : lines) {
        QAction *a = menu->addAction(l.keys.isEmpty() ? l.words : l.words + '\t' + l.keys);
        a->setEnabled(bool(l.run));
        QObject::connect(a, &QAction::triggered, parent, [run = l.run] { run(); });
    }
    menu->popup(global);
}

} // namespace pipit::app
