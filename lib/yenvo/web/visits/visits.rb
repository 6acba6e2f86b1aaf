# frozen_string_literal: true

module Yenvo
  module Web
    # Forms that visitors fill in without signing in, each at an address that tells nothing. No session, no cookie: what
    # is sent here borrows nobody's rights, so that other sites may show a form in a frame where it allows them.
    class Visits < Base
      # Sendings from one address, by one form, within a minute; by one form from everywhere, within an hour.
      MOST_FROM_ONE = 10
      MOST_IN_ALL = 600
      # From one address, by whichever forms, within a minute.
      MOST_AT_ALL = 30
      MOST_FILES = 5
      TOO_MANY = "Too much was sent from here. Wait a minute, then send it again."
      NOT_TAKEN = "This could not be taken. Nothing was kept; tell the people you are writing to."
      UNREADABLE = "What came in could not be read. Load the page anew, then send it once more."
      NOTHING_HERE = "There is no form at this address. Ask whoever gave it to you for another."
      CONSENT = "Tick that you agree, to send it."

      before do
        content_type :html
      end

      get "/:address" do
        row, form = form!
        page(row, form, said: closed_words(row, form))
      end

      get "/:address/thanks" do
        row, form = form!
        page(row, form, said: thanks(form))
      end

      post "/:address" do
        row, form = form!
        closed = closed_words(row, form)
        next page(row, form, said: closed) if closed

        refusal = too_many(row)
        next refused(429, row, form, {"" => refusal}) if refusal
        # People see no such field; whoever fills it in is none, and is not told so.
        next taken(row, form) unless params["homepage"].to_s.empty?

        send_in(row, form)
      end

      # What cannot be read is refused before anything looks at it, and what is too much before it is read.
      def call!(env)
        return super unless env["REQUEST_METHOD"] == "POST"
        return flooded if flood?(env)

        Rack::Request.new(env).POST
        super
      rescue Rack::BadRequest, EOFError
        [400, {"content-type" => "text/plain; charset=utf-8", "cache-control" => "no-store"}, [UNREADABLE]]
      end

      error(Store::NotFound) { missing }
      not_found { missing }

      private

      # Counted for an address over all forms, since taking a large body apart is work too.
      def flood?(env) =
        env["yenvo.house"].root.counts.add("forms #{env["yenvo.address"]}", seconds: 60) > MOST_AT_ALL

      def flooded = [429, {"content-type" => "text/plain; charset=utf-8", "cache-control" => "no-store"}, [TOO_MANY]]

      def form!
        row, plain = root.forms.at!(params["address"])
        form, = root.forms.read(plain)
        raise Store::NotFound, "There is no form at this address." unless form

        allow(form.origins)
        [row, form]
      end

      # What is left of a form whose fields are gone asks nothing.
      def closed_words(row, form) = (form.words["closed"] if row[:closed_at] || form.items.empty?)

      def send_in(row, form)
        once, why = stamps(row).read(params["stamp"], now)
        given = answers
        answer, wrong = form.read(given, root.schema)
        wrong["consent"] = CONSENT if form.words["consent"] && params["consent"] != "yes"
        wrong.merge!(wrong_files(form))
        wrong[""] = why if why
        return refused(422, row, form, wrong) if wrong.any?

        root.form_sends.take(row, form, answer, once:, consent: params["consent"] == "yes", files:,
          cause: Store::Journal::Cause.house(now))
        taken(row, form)
      rescue Store::Refused => error
        refused(422, row, form, place(error, form))
      end

      # Which rules the house has, and what it knows already, is nobody's business outside; what a rule says to whoever
      # saves, visitors read too.
      def place(error, form)
        hidden = error.fields.key?("rule") || error.details[:taken]
        asks = form.items.to_h { |item| [item.key, item.ask] }.merge("file" => "files", "record" => "")
        known = hidden ? {} : error.fields.slice(*asks.keys).transform_keys(asks)
        (known.any? && known.size == error.fields.size) ? known : {"" => NOT_TAKEN}
      end

      def answers = Hash.try_convert(params["a"]).to_h.select { |_, one| text?(one) }
      def text?(one) = one.is_a?(String) || (one.is_a?(Array) && one.all?(String))

      def files
        @files ||= Array(params["files"]).select { |one| one.is_a?(Hash) && one[:tempfile] && one[:filename] != "" }
          .map { |one| [one[:filename].to_s.dup.force_encoding("UTF-8").scrub("?"), one[:tempfile].read.to_s.b] }
      end

      def wrong_files(form)
        asked = form.items.find(&:files?) or return (files.any? ? {"" => NOT_TAKEN} : {})
        return {"files" => "At most #{MOST_FILES} files."} if files.size > MOST_FILES

        (asked.required && files.empty?) ? {"files" => "#{asked.label} has to be filled in."} : {}
      end

      def too_many(row)
        counts, key = root.counts, row[:key]
        one = counts.add("form #{key} #{env["yenvo.address"]}", seconds: 60) > MOST_FROM_ONE
        TOO_MANY if one || counts.add("form #{key}", seconds: 3_600) > MOST_IN_ALL
      end

      def script? = env["HTTP_ACCEPT"].to_s.start_with?(Json::TYPE)
      def stamps(row) = SendingStamp.new(root.secret, row[:address])
      def here(row) = "#{env["SCRIPT_NAME"]}/#{row[:address]}"

      def thanks(form) = form.words["thanks"]

      # Found and made look the same.
      def taken(row, form)
        by_script(201, thanks: thanks(form)) if script?
        redirect("#{here(row)}/thanks", 303)
      end

      def refused(status, row, form, wrong)
        status(status)
        stamp = stamps(row).renew(params["stamp"], now)
        return by_script(status, wrong:, stamp:) if script?

        page(row, form, given: answers, wrong:, stamp:)
      end

      def by_script(status, body)
        content_type :json
        halt(status, JSON.generate(body))
      end

      def page(row, form, **more)
        written(form, action: here(row), stamp: stamps(row).make(now), **more)
      end

      def written(form, **more) = FormPage.new(form, house: root.setup_store.house_name, assets:, **more).html
      def assets = Assets.of(FormPage::ENTRY)

      POLICY = "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self'; " \
        "connect-src 'self'; form-action 'self'; base-uri 'none'"
      private_constant :POLICY

      # Who may show it in a frame (CSP, frame-ancestors); the older header knows nobody but the house itself.
      def allow(origins)
        ancestors = ["'self'", *origins].join(" ")
        headers "content-security-policy" => "#{POLICY}; frame-ancestors #{ancestors}", "x-frame-options" => ""
      end

      def missing
        halt(404, written(nil, said: NOTHING_HERE))
      end
    end
  end
end
