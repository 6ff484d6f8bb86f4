#include "recorder/hands/states.h"

#include "recorder/hands/menus.h"
#include "recorder/hands/reach.h"

#include <QtGui/QAction>
#include <QtWidgets/QAbstractButton>
#include <QtWidgets/QAbstractItemView>
#include <QtWidgets/QCheckBox>
#include <QtWidgets/QComboBox>
#include <QtWidgets/QGroupBox>
#include <QtWidgets/QLabel>
#include <QtWidgets/QMenu>
#include <QtWidgets/QTabWidget>

namespace pipit::recorder
{

namespace
{

const QAbstractItemModel *modelOf(const QObject *o)
{
    if (const auto *view = qobject_cast<const QAbstractItemView *>(o))
        return view->model();
    if (const auto *box = qobject_cast<const QComboBox *>(o))
        return box->model();
    return nullptr;
}

QModelIndex rootOf(const QObject *o)
{
    const auto *view = qobject_cast<const QAbstractItemView *>(o);
    return view ? view->rootIndex() : QModelIndex();
}

QStringList rowsOf(const QObject *o, bool everyColumn)
{
    QStringList rows;
    const QAbstractItemModel *model = modelOf(o);
    for (int r = 0; model && r < std::min(model->rowCount(rootOf(o)), 10'000); ++r)
        for (int c = 0; c < (everyColumn ? model->columnCount(rootOf(o)) : 1); ++c)
            rows << model->index(r, c, rootOf(o)).data().toString();
    return rows;
}

// What it shows, by the property that holds it.
QVariant shownText(const QObject *o)
{
    for (const char *property : {"plainText", "text", "currentText", "title"})
        if (const QVariant v = o->property(property); v.isValid())
            return v;
    if (modelOf(o))
        return rowsOf(o, false).join(u'\n');
    for (const char *property : {"value", "windowTitle"})
        if (const QVariant v = o->property(property); v.isValid())
            return v.toString();
    return {};
}

bool hasMnemonic(const QObject *o)
{
    const auto *label = qobject_cast<const QLabel *>(o);
    return qobject_cast<const QAbstractButton *>(o) || qobject_cast<const QGroupBox *>(o) ||
           qobject_cast<const QAction *>(o) || (label && label->buddy());
}

QJsonObject result(bool met, const QString &found)
{
    return {{QStringLiteral("met"), met}, {QStringLiteral("found"), found}};
}

QJsonObject compareText(const QObject *o, const QString &target, const QString &wanted, bool containing)
{
    const QVariant shown = shownText(o);
    if (!shown.isValid())
        return error(QStringLiteral("%1 has no text").arg(target));
    const QString text = shown.toString(), plain = hasMnemonic(o) ? withoutMnemonic(text) : text;
    const auto fits = [&](const QString &t) { return containing ? t.contains(wanted) : t == wanted; };
    return result(fits(text) || fits(plain), QStringLiteral("text \"%1\"").arg(plain));
}

QJsonObject compareSwitch(const QObject *o, const QString &target, const char *property, bool wanted,
                          const char *yes, const char *no)
{
    const QVariant is = o->property(property);
    if (!is.isValid() || is.metaType().id() != QMetaType::Bool)
        return error(QStringLiteral("%1 cannot be %2").arg(target, QLatin1String(wanted ? yes : no)));
    return result(is.toBool() == wanted, QLatin1String(is.toBool() ? yes : no));
}

QJsonObject compareChecked(const QObject *o, const QString &target, bool wanted)
{
    if (const QVariant can = o->property("checkable"); can.isValid() && !can.toBool())
        return error(QStringLiteral("%1 cannot be checked").arg(target));
    if (const auto *box = qobject_cast<const QCheckBox *>(o);
        box && box->checkState() == Qt::PartiallyChecked)
        return result(false, QStringLiteral("partly checked")); // neither of the two
    return compareSwitch(o, target, "checked", wanted, "checked", "unchecked");
}

QJsonObject comparePartly(const QObject *o, const QString &target)
{
    const auto *box = qobject_cast<const QCheckBox *>(o);
    if (!box || !box->isTristate())
        return error(QStringLiteral("%1 cannot be partly checked").arg(target));
    return result(box->checkState() == Qt::PartiallyChecked,
                  box->checkState() == Qt::PartiallyChecked ? QStringLiteral("partly checked")
                  : box->isChecked()                        ? QStringLiteral("checked")
                                                            : QStringLiteral("unchecked"));
}

QJsonObject compareValue(const QObject *o, const QString &target, double wanted)
{
    const QVariant is = o->property("value");
    bool number = false;
    const double value = is.toDouble(&number);
    if (!number)
        return error(QStringLiteral("%1 has no value").arg(target));
    return result(qAbs(value - wanted) <= 1e-9 * qMax(1.0, qAbs(wanted)),
                  QStringLiteral("value %1").arg(value, 0, 'g', 12));
}

// Of a choice the item that is chosen; of a list, table or tree any that is in it.
QJsonObject compareItem(const QObject *o, const QString &target, const QString &wanted)
{
    if (const auto *box = qobject_cast<const QComboBox *>(o))
        return result(box->currentText() == wanted, QStringLiteral("item \"%1\"").arg(box->currentText()));
    if (const auto *tabs = qobject_cast<const QTabWidget *>(o)) {
        const QString now = withoutMnemonic(tabs->tabText(tabs->currentIndex()));
        return result(now == wanted, QStringLiteral("item \"%1\"").arg(now));
    }
    if (!modelOf(o))
        return error(QStringLiteral("%1 has no items").arg(target));
    const QStringList rows = rowsOf(o, true);
    const QString some = rows.mid(0, 5).join(QStringLiteral("\", \""));
    return result(
        rows.contains(wanted),
        rows.isEmpty()
            ? QStringLiteral("no items")
            : QStringLiteral("items \"%1\"%2").arg(some, QLatin1String(rows.size() > 5 ? " and more" : "")));
}

QJsonObject compareCount(const QObject *o, const QString &target, int wanted)
{
    int count = -1;
    if (const QAbstractItemModel *model = modelOf(o))
        count = model->rowCount(rootOf(o));
    else if (const QVariant v = o->property("count"); v.isValid())
        count = v.toInt();
    if (count < 0)
        return error(QStringLiteral("%1 has no rows to count").arg(target));
    return result(count == wanted, QStringLiteral("count %1").arg(count));
}

} // namespace

QJsonObject compareState(const QString &target, const QJsonObject &want)
{
    const Snapshot all = Snapshot::take();
    const auto found = all.find(target);
    const QObject *o = found ? static_cast<const QObject *>(found->widget.data()) : findAction(target);
    const QString kind = want[QLatin1String("kind")].toString(),
                  text = want[QLatin1String("text")].toString();
    const bool is = want[QLatin1String("is")].toBool(true);
    if (!o && kind == QLatin1String("visible") && !is)
        return result(true, QStringLiteral("hidden")); // what is not there is not seen
    if (!o)
        return notFound(target, all);
    if (kind == QLatin1String("text") || kind == QLatin1String("containing"))
        return compareText(o, target, text, kind == QLatin1String("containing"));
    if (kind == QLatin1String("partly"))
        return comparePartly(o, target);
    if (kind == QLatin1String("checked"))
        return compareChecked(o, target, is);
    if (kind == QLatin1String("enabled"))
        return compareSwitch(o, target, "enabled", is, "enabled", "disabled");
    if (kind == QLatin1String("visible"))
        return compareSwitch(o, target, "visible", is, "visible", "hidden");
    if (kind == QLatin1String("value"))
        return compareValue(o, target, want[QLatin1String("number")].toDouble());
    if (kind == QLatin1String("item"))
        return compareItem(o, target, text);
    if (kind == QLatin1String("count"))
        return compareCount(o, target, want[QLatin1String("number")].toInt());
    return error(QStringLiteral("unknown expectation %1").arg(kind));
}

} // namespace pipit::recorder
