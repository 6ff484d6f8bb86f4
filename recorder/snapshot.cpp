#include "recorder/snapshot.h"

#include "link/near.h"

#include <QtCore/QHash>
#include <QtCore/QVariant>
#include <QtWidgets/QApplication>
#include <QtWidgets/QListWidget>

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

// What a widget shows, by the property that holds it.
QVariant shownText(const QWidget *w)
{
    for (const char *property : {"plainText", "text", "currentText", "title"})
        if (const QVariant v = w->property(property); v.isValid())
            return v;
    if (const auto *list = qobject_cast<const QListWidget *>(w)) {
        QStringList rows;
        for (int i = 0; i < list->count(); ++i)
            rows << list->item(i)->text();
        return rows.join(u'\n');
    }
    for (const char *property : {"value", "windowTitle"})
        if (const QVariant v = w->property(property); v.isValid())
            return v.toString();
    return {};
}

Target describe(QWidget *w, QWidget *top, const QPointF &origin)
{
    Target t;
    t.name = w->objectName();
    t.other = QString::fromLatin1(w->metaObject()->className());
    if (const QVariant text = w->property("text"); text.isValid() && !text.toString().isEmpty())
        t.other += QStringLiteral(" \"%1\"").arg(text.toString());
    t.widget = w;
    t.window = top->windowHandle();
    t.origin = origin;
    t.corner = QPointF(w->mapTo(top, QPoint(0, 0)));
    t.centre = QRectF(t.corner, QSizeF(w->size())).center();
    t.hasFocus = w->hasFocus();
    t.takesText = takesText(w);
    return t;
}

} // namespace

Snapshot Snapshot::take()
{
    Snapshot s;
    if (!qobject_cast<QApplication *>(QCoreApplication::instance()))
        return s;
    QHash<QString, int> numbers;
    for (QWidget *top : QApplication::topLevelWidgets()) {
        if (!top->isVisible() || !top->windowHandle())
            continue;
        ++s.windows_;
        const QPointF origin = top->mapToGlobal(QPoint(0, 0));
        s.targets_ << describe(top, top, origin);
        for (QWidget *w : top->findChildren<QWidget *>()) {
            if (w->window() != top || !w->isVisible())
                continue;
            Target t = describe(w, top, origin);
            const QString cls = QString::fromLatin1(w->metaObject()->className());
            if (t.name.isEmpty())
                t.name = QStringLiteral("%1 %2").arg(cls).arg(++numbers[cls]);
            s.targets_ << t;
        }
    }
    return s;
}

std::optional<Target> Snapshot::find(const QString &name) const
{
    for (const Target &t : targets_)
        if (t.name == name)
            return t;
    for (const Target &t : targets_)
        if (t.other == name)
            return t;
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
        all << (t.name.isEmpty() ? t.other : t.name);
    return all;
}

std::optional<QString> currentText(const QString &target)
{
    const auto found = Snapshot::take().find(target);
    if (!found || !found->widget)
        return std::nullopt;
    const QVariant text = shownText(found->widget);
    return text.isValid() ? std::optional(text.toString()) : std::nullopt;
}

} // namespace pipit::recorder
