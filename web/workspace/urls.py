from web.workspace.addresses import patterns

urlpatterns = patterns()
