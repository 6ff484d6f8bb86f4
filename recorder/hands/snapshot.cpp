#include "recorder/hands/snapshot.h"

#include "link/near.h"
#include "recorder/hands/captions.h"

#include <QtCore/QHash>
#include <QtCore/QVariant>
#include <QtGui/private/qguiapplication_p.h>
#include <QtWidgets/QAbstractButton>
#include <QtWidgets/QApplication>
#include <QtWidgets/QGroupBox>
#include <QtWidgets/QStyle>
#include <QtWidgets/QStyleOptionGroupBox>

#include <algorithm>

namespace pipit::recorder
{

namespace
{

bool takesText(const QWidget *w)
{
    return w->testAttribute(Qt::WA_InputMethodEnabled) || w->inherits("QLineEdit") ||
           w->inherits("QAbstractSpinBox") || w->inherits("QTextEdit") || w->inherits("QPlainTextEdit");
}

// What a button answers itself: whether a press there is on it.
struct ButtonAccess : QAbstractButton {
    static bool hits(const QAbstractButton *b, const QPoint &at)
    {
        return (b->*(&ButtonAccess::hitButton))(at);
    }
};

QString nameOf(const QWidget *w)
{
    return w->objectName().isEmpty() ? QString::fromLatin1(w->metaObject()->className()) : w->objectName();
}

// The dialog that keeps input from this window.
QString blocker(const QWidget *top)
{
    QWindow *by = nullptr;
    if (!top->windowHandle() ||
        !QGuiApplicationPrivate::instance()->isWindowBlocked(top->windowHandle(), &by))
        return {};
    if (const QWidget *modal = QApplication::activeModalWidget(); modal && modal != top)
        return nameOf(modal);
    for (const QWidget *other : QApplication::topLevelWidgets())
        if (by && other->windowHandle() == by)
            return nameOf(other);
    return QStringLiteral("another window");
}

QString hindranceOf(const QWidget *w, const QString &behind)
{
    if (!w->isVisible())
        return QStringLiteral("is hidden");
    if (!behind.isEmpty())
        return QStringLiteral("lies behind %1, which keeps input from it").arg(behind);
    return w->isEnabled() ? QString() : QStringLiteral("is disabled");
}

Target describe(QWidget *w, QWidget *top, const QPointF &origin, const QString &behind)
{
    Target t;
    t.name = w->objectName();
    t.other = QString::fromLatin1(w->metaObject()->className());
    if (const QVariant text = w->property("text"); text.isValid() && !text.toString().isEmpty())
        t.other += QStringLiteral(" \"%1\"").arg(withoutMnemonic(text.toString()));
    if (const QString caption = captionOf(w); !caption.isEmpty())
        t.called = QString::fromLatin1(w->metaObject()->className()) + QStringLiteral(" \"%1\"").arg(caption);
    t.widget = w;
    t.window = top->windowHandle();
    t.origin = origin;
    t.visible = w->isVisible();
    t.hindrance = hindranceOf(w, behind);
    if (t.visible) {
        t.corner = QPointF(w->mapTo(top, QPoint(0, 0)));
        t.centre = t.corner + QPointF(hitPoint(w));
    }
    t.hasFocus = w->hasFocus();
    t.takesText = takesText(w);
    return t;
}

} // namespace

QString withoutMnemonic(const QString &text)
{
    QString out;
    for (qsizetype i = 0; i < text.size(); ++i) {
        if (text[i] == u'&' && i + 1 < text.size())
            ++i;
        out += text[i];
    }
    return out;
}

// A tick box in a wide column answers only on its mark and its words; a group that can be ticked only
// in its heading.
QPoint hitPoint(QWidget *w)
{
    const QPoint middle = w->rect().center();
    if (const auto *button = qobject_cast<QAbstractButton *>(w)) {
        if (ButtonAccess::hits(button, middle))
            return middle;
        const bool mirrored = w->isRightToLeft();
        for (int x = 4; x < w->width(); x += 4)
            if (const QPoint at(mirrored ? w->width() - x : x, middle.y()); ButtonAccess::hits(button, at))
                return at;
        return middle;
    }
    if (const auto *group = qobject_cast<QGroupBox *>(w); group && group->isCheckable()) {
        QStyleOptionGroupBox option;
        option.initFrom(group);
        option.text = group->title();
        option.subControls =
            QStyle::SC_GroupBoxCheckBox | QStyle::SC_GroupBoxLabel | QStyle::SC_GroupBoxFrame;
        option.lineWidth = 1;
        option.textAlignment = group->alignment();
        return group->style()
            ->subControlRect(QStyle::CC_GroupBox, &option, QStyle::SC_GroupBoxCheckBox, group)
            .center();
    }
    return middle;
}

Snapshot Snapshot::take()
{
    Snapshot s;
    if (!qobject_cast<QApplication *>(QCoreApplication::instance()))
        return s;
    QHash<QString, int> numbers;
    for (QWidget *top : QApplication::topLevelWidgets()) {
        const bool shown = top->isVisible() && top->windowHandle();
        s.windows_ += shown;
        const QPointF origin = shown ? top->mapToGlobal(QPoint(0, 0)) : QPoint();
        const QString behind = shown ? blocker(top) : QString();
        s.targets_ << describe(top, top, origin, behind);
        for (QWidget *w : top->findChildren<QWidget *>()) {
            if (w->window() != top)
                continue;
            Target t = describe(w, top, origin, behind);
            const QString cls = QString::fromLatin1(w->metaObject()->className());
            if (t.name.isEmpty() && t.visible)
                t.name = QStringLiteral("%1 %2").arg(cls).arg(++numbers[cls]);
            s.targets_ << t;
        }
    }
    return s;
}

std::optional<Target> Snapshot::find(const QString &name) const
{
    if (name.isEmpty())
        return std::nullopt;
    for (const bool visible : {true, false}) {
        for (const Target &t : targets_)
            if (t.visible == visible && t.name == name)
                return t;
        for (const Target &t : targets_)
            if (t.visible == visible && (t.other == name || t.called == name))
                return t;
    }
    return std::nullopt;
}

static std::u16string_view units(const QString &text)
{
    return {QStringView(text).utf16(), std::size_t(text.size())};
}

QStringList Snapshot::nearest(const QString &name) const
{
    QList<std::pair<int, QString>> all;
    const QString wanted = name.toLower();
    for (const Target &t : targets_)
        if (!t.name.isEmpty() && !t.name.startsWith(QLatin1String("qt_")))
            all.append({link::nameDistance(units(t.name.toLower()), units(wanted)), t.name});
    std::sort(all.begin(), all.end());
    QStringList names;
    for (const auto &[d, n] : all)
        if (names.size() < 3 && d <= std::max<qsizetype>(4, name.size() / 2))
            names << n;
    return names;
}

QStringList Snapshot::names() const
{
    QStringList all;
    for (const Target &t : targets_)
        if (t.visible)
            all << (t.name.isEmpty() ? t.other : t.name);
    return all;
}

} // namespace pipit::recorder
