from web.workspace.routes import patterns

urlpatterns = patterns()
