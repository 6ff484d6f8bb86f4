// A model changes without telling its view.
//
// ask     carList
// verdict changed nothing
// says    changed nothing
#include "fault.h"
#include <QAbstractListModel>
#include <QListView>

using namespace fault;

namespace
{

struct Cars : QAbstractListModel {
    int rows = 1;
    int rowCount(const QModelIndex & = {}) const override { return rows; }
    QVariant data(const QModelIndex &i, int role) const override
    {
        return role == Qt::DisplayRole ? QVariant(i.row()) : QVariant();
    }
};

} // namespace

FAULT(silent_model)
{
    Desk d;
    Cars cars;
    QListView list;
    list.setObjectName("carList");
    list.setModel(&cars);
    d.layout.addWidget(&list, 1);
    QObject::connect(&list, &QListView::clicked, &d, [&] { ++cars.rows; });
    return run(d, [&] { click(&d, list.mapTo(&d, QPoint(20, 10))); });
}
