# frozen_string_literal: true

module Yenvo
  module Web
    # Leaves a line in the log of what those who run Yenvo may have to look into: sign-ins and those that failed,
    # refusals, limits that were reached, and every change of persons and set-up. Each says who, from which address, and
    # what.
    class Watch
      SIGN_IN = "/api/sign-in"
      SET_UP = "/api/setup/"
      # What is asked there changes nothing.
      ASKS = "/api/setup/formula"

      def initialize(log: SemanticLogger["Watch"])
        @log = log
      end

      # @param env [Hash] of Rack, after the call
      # @param status [Integer] of the answer
      def note(env, status)
        what = words(env["REQUEST_METHOD"], path(env), status) or return
        said = {
          person: env.dig("yenvo.person", :key) || tried(env), address: env["yenvo.address"],
          method: env["REQUEST_METHOD"], path: path(env), status:
        }
        @log.info(what, said.compact)
      end

      private

      def words(method, path, status)
        if path == SIGN_IN
          return {200 => "Signed in", 401 => "A sign-in failed", 429 => "A sign-in has to wait"}[status]
        end
        return "A call was refused" if status == 403
        return "A limit was reached" if [429, 413].include?(status)

        "The set-up was changed" if method != "GET" && status < 300 && path.start_with?(SET_UP) && path != ASKS
      end

      def path(env) = env["PATH_INFO"].to_s.scrub("?")[0, 200]

      def tried(env)
        body = env["yenvo.body"]
        body["email"].to_s[0, 190] if path(env) == SIGN_IN && body.is_a?(Hash)
      end
    end
  end
end
