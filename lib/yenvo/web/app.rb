# frozen_string_literal: true

require "rack/attack"

module Yenvo
  module Web
    # The whole web side as one Rack application; this is its table of contents.
    module App
      # By their path below /api.
      RESOURCES = {
        "/session" => Sessions, "/opening" => Openings, "/forgotten" => Forgottens,
        "/me" => Mes, "/setup/desks" => Desks, "/setup/house" => Houses,
        "/setup/leaving" => Leavings, "/setup/access" => Accesses,
        "/outbox" => Outboxes, "/addresses" => Addresses, "/texts" => Texts, "/papers" => Papers, "/forms" => Forms,
        "/stand-ins" => StandIns,
        "/setup/tokens" => Tokens, "/setup" => Setups,
        "/first-steps" => Steps,
        "/records" => Records, "/find" => Finds, "/search" => Searches,
        "/tasks" => Tasks, "/worklist" => Worklists, "/rules" => Rules, "/rule-files" => RuleFiles,
        "/try" => Tries, "/trail" => Trails, "/runs" => Runs, "/notices" => Notices,
        "/jobs" => Jobs, "/asides" => Asides, "/undo" => Undos, "/patterns" => Patterns,
        "/doors" => ProgramDoors, "/mail-doors" => MailDoors, "/imports" => Imports, "/trash" => Trashes,
        "/merges" => Merges, "/bulk" => Bulks, "/views" => Views, "/duplicates" => Duplicates,
        "/kits" => Kits, "/copies" => Copies, "/queues" => Queues,
        "/team" => Team, "/audit" => Audits, "/presets" => Presets, "/proposals" => Proposals
      }.freeze

      module_function

      # @param house [House]
      # @param pages [String] folder of the built front end
      # @return [#call]
      def build(house, pages:)
        Counters.install(house.root)
        contract = Contract.new(Contract::DOCUMENT)
        by_session = by_session(house, contract, cookie(house.settings))
        shown = Pages.new(pages)
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
          map("/f") { run Visits.new }
          map("/calendars") { run Calendars.new }
          map("/in") { run Arriving.new }
          map("/unsubscribe") { run Unsubscribe.new(house, shown) }
          run shown
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
          RESOURCES.each { |path, resource| map(path) { run resource.new } }
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
