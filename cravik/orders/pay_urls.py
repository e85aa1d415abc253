from django.urls import path

from cravik.orders import again_views, pay_views

app_name = "pay"
urlpatterns = [
    path("rehearsal/<id:link_id>/pay/", pay_views.pay_rehearsal, name="rehearsal"),
    path("rehearsal/<id:link_id>/again/<slug:reference>/", again_views.rehearsal_again, name="rehearsal_again"),
    path("<slug:slug>/again/<slug:reference>/", again_views.again, name="again"),
    path("<slug:slug>/pay/", pay_views.pay, name="live"),
]
