# frozen_string_literal: true

require "rack/attack"

module Yenvo
  module Web
    # The whole web side as one Rack application; this is its table of contents.
    module App
      RESOURCES = {
        "/api/session" => Sessions, "/api/opening" => Openings, "/api/forgotten" => Forgottens,
        "/api/me" => Mes, "/api/setup/desks" => Desks, "/api/setup/house" => Houses,
        "/api/setup/leaving" => Leavings, "/api/setup/tokens" => Tokens, "/api/setup" => Setups,
        "/api/first-steps" => Steps,
        "/api/records" => Records, "/api/find" => Finds,
        "/api/tasks" => Tasks, "/api/worklist" => Worklists, "/api/rules" => Rules, "/api/rule-files" => RuleFiles,
        "/api/try" => Tries, "/api/trail" => Trails, "/api/runs" => Runs, "/api/notices" => Notices,
        "/api/jobs" => Jobs, "/api/asides" => Asides, "/api/undo" => Undos, "/api/patterns" => Patterns,
        "/api/door" => Doors, "/api/kits" => Kits, "/api/copies" => Copies, "/api/queues" => Queues,
        "/api/team" => Team, "/api/audit" => Audits, "/api/presets" => Presets, "/api/proposals" => Proposals
      }.freeze

      module_function

      # @param house [House]
      # @param pages [String] folder of the built front end
      # @return [#call]
      def build(house, pages:)
        Counters.install(house.root)
        contract = Contract.new(Contract::DOCUMENT)
        by_session = by_session(house, contract, cookie(house.settings))
        by_token = Described.new(resources, contract, open: false)
        Rack::Builder.app do
          use Doorway, house
          map("/healthz") { run Health.new(house, deep: false) }
          map("/readyz") { run Health.new(house, deep: true) }
          map("/metrics") { run Metrics.new(house) }
          map("/api") do
            use Rack::Attack
            run Bearer.new(by_session, by_token, contract)
          end
          map("/openapi.yaml") { run ->(_env) { [200, {"content-type" => "application/yaml"}, [Contract::SOURCE]] } }
          run Pages.new(pages)
        end
      end

      # People in a browser: a session kept in a cookie.
      def by_session(house, contract, kept)
        answers = resources
        Rack::Builder.app do
          use Described, contract, open: true
          use Rack::Session::Cookie, **kept
          use Forgery
          use house.sign_in
          use Guard
          use Described, contract, open: false
          map("/live") { run house.live }
          run answers
        end
      end

      # @return [#call] what answers the calls, when it is known who calls
      def resources
        Rack::Builder.app do
          RESOURCES.each { |path, resource| map(path.delete_prefix("/api")) { run resource.new } }
          run Nowhere
        end
      end

      # With HTTPS the cookie is bound to this very host (RFC 6265bis, "__Host-").
      def cookie(settings)
        {
          key: settings.https ? "__Host-yenvo" : "yenvo", secret: settings.session_secret, path: "/", same_site: :lax,
          httponly: true, secure: settings.https, expire_after: Store::People::LIFETIME_SECONDS
        }
      end
    end
  end
end
